import { DOCUMENT, DestroyRef, Injectable, inject, signal } from '@angular/core';
import { type ChapterKey, type CheckLine, type Rating, type RatingFix, withPartsList } from '@unirota/core';
import type { Design, Id } from '@unirota/core/document';
import type { Paper } from '@unirota/core/pdf';
import { lastOwner } from '../engine/owner';
import type { PapersApi } from '../engine/papers.worker';
import { WorkerClient, wasEnded } from '../engine/worker-client';
import { AutosaveService } from './autosave.service';
import { DesignService } from './design.service';
import { downloadFile } from './downloads';
import { SessionService } from './session.service';

/** Bytes of a workbook that is read back, at most. */
const LARGEST_BOOK = 16 * 1024 * 1024;
/** Where the build puts the typefaces of reports, beside the page. */
const FONTS = 'fonts/';
/** What stands on a report besides its figures. */
export type Mark = readonly [label: string, value: string];

/** What a designer hands on: made in a worker, given as a file. */
@Injectable()
export class PapersService {
  private readonly page = inject(DOCUMENT);
  private readonly doc = inject(DesignService);
  private readonly autosave = inject(AutosaveService);
  private readonly person = inject(SessionService).session;
  private readonly worker = new WorkerClient<PapersApi>(
    () => new Worker(new URL('../engine/papers.worker', import.meta.url), { type: 'module', name: lastOwner() }),
  );
  /** A report is being made. */
  readonly making = signal(false);
  readonly trouble = signal('');

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.end());
  }

  /** All tables of the design as one file: as stated, and in every load case. */
  async tables(): Promise<void> {
    const d = this.doc.design();
    try {
      downloadFile(new Blob([await this.tablesBytes(d)]), `${d.name} tables`, 'xlsx');
    } catch (e) {
      this.doc.said.set($localize`The tables could not be written: ${(e as Error).message}`);
    }
  }

  /** Takes names, materials, costs and notes out of a workbook of the design's tables; what is wrong in it, in sentences. */
  async importParts(file: File): Promise<readonly string[]> {
    if (file.size > LARGEST_BOOK) return [$localize`The file is larger than ${LARGEST_BOOK / 1024 / 1024} MiB.`];
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const lines = await this.worker.call((api) => api.partsOf(bytes));
      const { design, changed, problems } = withPartsList(this.doc.design(), lines);
      if (changed) {
        const trouble = this.doc.edit($localize`Import parts list`, () => design);
        if (trouble) return [trouble];
      }
      this.doc.said.set(
        changed === 0
          ? $localize`The list says nothing new`
          : changed === 1
            ? $localize`Taken from the list: 1 part`
            : $localize`Taken from the list: ${changed} parts`,
      );
      return problems;
    } catch (e) {
      return [(e as Error).message];
    }
  }

  /** The report with these chapters as PDF; undefined where it was not made, or somebody ended it. */
  async report(chapters: readonly ChapterKey[], paper: Paper): Promise<Blob | undefined> {
    this.trouble.set('');
    this.making.set(true);
    try {
      return new Blob([await this.reportBytes(this.doc.design(), chapters, paper, this.marks(new Date()))], { type: 'application/pdf' });
    } catch (e) {
      const why = (e as Error).message;
      if (!wasEnded(e)) this.trouble.set($localize`The report was not made: ${why}`);
      return undefined;
    } finally {
      this.making.set(false);
    }
  }
  /** The report as bytes, with what tells it from another. */
  reportBytes(design: Design, chapters: readonly ChapterKey[] | undefined, paper: Paper, marks: readonly Mark[]): Promise<Uint8Array<ArrayBuffer>> {
    const fonts = new URL(FONTS, this.page.baseURI).href;
    return this.worker.call((api) => api.report(design, { ...(chapters && { chapters }), paper, date: Date.now(), fonts, marks }));
  }
  tablesBytes(design: Design): Promise<Uint8Array<ArrayBuffer>> {
    return this.worker.call((api) => api.tables(design));
  }
  checklist(design: Design): Promise<{ lines: CheckLine[]; home: Float64Array }> {
    return this.worker.call((api) => api.checklist(design));
  }
  rating(design: Design): Promise<Rating> {
    return this.worker.call((api) => api.rating(design));
  }
  ratingFixes(design: Design, item: Id): Promise<RatingFix[]> {
    return this.worker.call((api) => api.ratingFixes(design, item));
  }
  ratingSizes(design: Design, coupling: Id): Promise<RatingFix[]> {
    return this.worker.call((api) => api.ratingSizes(design, coupling));
  }
  zip(entries: Record<string, Uint8Array>): Promise<Uint8Array<ArrayBuffer>> {
    return this.worker.call((api) => api.zip(entries));
  }
  /** Ends a report that is being made: its worker goes, and the next has a new one. */
  end(): void {
    if (this.making()) this.worker.end();
  }

  /** What tells a report from another: revision, date, person. */
  private marks(date: Date): Mark[] {
    const { revision } = this.titleData();
    return [...(revision ? [[$localize`Revision`, revision] as const] : []), ...this.who(date)];
  }
  /** When, and by whom where people have names. */
  who(date: Date): Mark[] {
    const { day, person } = this.titleData(date);
    return [[$localize`Date`, day], ...(person ? [[$localize`By`, person] as const] : [])];
  }
  /** The revision that the design stands at, the day, and the person where people have names. */
  titleData(date = new Date()): { revision: string; day: string; person: string } {
    const saver = this.autosave.saver();
    const looked = this.doc.revision();
    const revision = looked ?? saver?.base;
    const unsaved = looked === undefined && saver !== undefined && (saver.server() !== 'saved' || saver.here() !== 'clean');
    return {
      revision: revision === undefined ? '' : unsaved ? $localize`${revision} with changes` : String(revision),
      day: [date.getFullYear(), date.getMonth() + 1, date.getDate()].map((n) => String(n).padStart(2, '0')).join('-'),
      person: this.person()?.person?.name ?? '',
    };
  }
}
