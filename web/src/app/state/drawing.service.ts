import { DOCUMENT, DestroyRef, Injectable, inject, signal } from '@angular/core';
import type { Design, Id, KeptDrawing } from '@unirota/core/document';
import { type TitleData, newDrawing, withDrawing, withDrawingChanged } from '@unirota/core';
import type { DrawingFormat } from '@unirota/solids';
import type { DrawingApi, DrawingPicture, DrawingQuestion } from '../engine/drawing.worker';
import { Latest } from '../engine/latest';
import { lastOwner } from '../engine/owner';
import { WorkerClient, wasEnded } from '../engine/worker-client';
import { DesignService } from './design.service';
import { downloadFile } from './downloads';
import { KERNEL } from './kernel-address';
import { MotionService } from './motion.service';
import { PapersService } from './papers.service';
import { RunService } from './run.service';
import { ShapesService } from './shapes.service';

const FONTS = 'fonts/';

/**
 * The drawings of the design: their definitions are edits of it, their pictures are made in a worker with the geometry kernel.
 */
@Injectable()
export class DrawingService {
  private readonly page = inject(DOCUMENT);
  private readonly doc = inject(DesignService);
  private readonly motion = inject(MotionService);
  private readonly runs = inject(RunService);
  private readonly shapes = inject(ShapesService);
  private readonly papers = inject(PapersService);
  private readonly worker = new WorkerClient<DrawingApi>(
    () => new Worker(new URL('../engine/drawing.worker', import.meta.url), { type: 'module', name: lastOwner() }),
  );
  private number = 0;
  readonly trouble = signal('');
  /** The picture of the last question that was answered. */
  readonly pictures = new Latest<{ design: Design; drawing: KeptDrawing }, DrawingPicture>(
    ({ design, drawing }) => this.draw(design, drawing),
    (e) => !wasEnded(e) && this.trouble.set($localize`The drawing was not made: ${(e as Error).message}`),
  );
  private asked: DrawingQuestion | undefined;

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.end());
  }

  /** A new drawing of the whole design, of a member, or of the train map; its id. */
  add(member?: Id, map = false): Id | undefined {
    const made = newDrawing(this.motion.worked().compiled, member);
    let id: Id | undefined;
    const trouble = this.doc.edit($localize`Add drawing`, (d) => {
      const next = withDrawing(d, map ? { name: $localize`Train map`, shows: 'train map', paper: 'A3' } : made);
      id = next.id;
      return next.design;
    });
    if (trouble) this.doc.said.set(trouble);
    return trouble ? undefined : id;
  }

  /** Changes a drawing; what is undefined is stated no more. What is wrong, if it was refused. */
  change(id: Id, changes: Partial<KeptDrawing>): string | undefined {
    return this.doc.edit($localize`Change drawing`, (d) => withDrawingChanged(d, id, changes));
  }
  /** Draws it where the train stands now. */
  standHere(id: Id): void {
    this.change(id, { starts: this.runs.startsHere() });
  }

  private async draw(design: Design, drawing: KeptDrawing): Promise<DrawingPicture> {
    this.trouble.set('');
    const question = await this.question(design, drawing);
    this.asked = question;
    return this.worker.call((api) => api.picture(question));
  }
  private async question(design: Design, drawing: KeptDrawing, title: Partial<TitleData> = {}): Promise<DrawingQuestion> {
    const { revision, day, person } = this.papers.titleData();
    return {
      number: ++this.number,
      design,
      drawing,
      title: { revision, date: day, by: person, ...title },
      kernel: new URL(KERNEL, this.page.baseURI).href,
      contents: await this.shapes.allOf(design),
    };
  }

  /** Gives the drawing that is shown as a file. */
  async download(drawing: KeptDrawing, format: DrawingFormat): Promise<void> {
    const question = this.asked;
    if (!question) return;
    this.trouble.set('');
    try {
      const fonts = new URL(FONTS, this.page.baseURI).href;
      const bytes = await this.worker.call((api) => api.file(question, format, fonts));
      downloadFile(new Blob([bytes]), `${question.design.name} ${drawing.name}`, format);
    } catch (e) {
      if (!wasEnded(e)) this.trouble.set($localize`The file was not made: ${(e as Error).message}`);
    }
  }
  /** A drawing of this state of the design as a file; where it shows nothing, why. */
  async file(
    design: Design,
    drawing: KeptDrawing,
    title: Partial<TitleData>,
    format: DrawingFormat,
  ): Promise<{ bytes: Uint8Array<ArrayBuffer>; empty?: string }> {
    const question = await this.question(design, drawing, title);
    const fonts = new URL(FONTS, this.page.baseURI).href;
    const { areas, notes } = await this.worker.call((api) => api.picture(question));
    const bytes = await this.worker.call((api) => api.file(question, format, fonts));
    return { bytes, ...(drawing.shows !== 'train map' && !areas.length && { empty: notes.join(' ') }) };
  }
  /** Ends a drawing that is being made. */
  end(): void {
    this.trouble.set($localize`The drawing was stopped. A change, or opening it again, draws it.`);
    this.worker.end();
  }
}
