import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import { firstValueFrom } from 'rxjs';
import { type CheckLine, letterOf, remarksLine } from '@unirota/core';
import { type Design, compareDesigns } from '@unirota/core/document';
import { RELEASE_FOLDER, RELEASE_JSON, type ReleaseFile, type ReleaseLine, type ReleaseRequest } from '@unirota/contract';
import { ApiService } from './api.service';
import { AutosaveService } from './autosave.service';
import { DesignService } from './design.service';
import { cleanName, downloadFile } from './downloads';
import { DrawingService } from './drawing.service';
import { GeometryService } from './geometry.service';
import { RemarksService } from './remarks.service';
import { PapersService } from './papers.service';

/** What may go out with a release. */
export const RELEASE_PARTS = ['report', 'drawings', 'tables', 'step', 'dxf', 'design'] as const;
export type ReleasePart = (typeof RELEASE_PARTS)[number];

/** A design as it was looked through for its release. */
export interface Checked {
  readonly design: Design;
  readonly lines: readonly CheckLine[];
  /** Free coordinates of its home. */
  readonly home: Float64Array;
}

/** Room in a file's name for the name of the design, and for that of a drawing. */
const LONGEST_NAME = 60,
  LONGEST_DRAWING = 24;

/** Releases of the open design: what was released, what the next one asks for, and making it. */
@Injectable()
export class ReleaseService {
  private readonly api = inject(ApiService);
  private readonly doc = inject(DesignService);
  private readonly autosave = inject(AutosaveService);
  private readonly papers = inject(PapersService);
  private readonly geometry = inject(GeometryService);
  private readonly drawings = inject(DrawingService);
  private readonly remarks = inject(RemarksService);
  /** Undefined until the server has said. */
  readonly list = signal<readonly ReleaseLine[] | undefined>(undefined);
  readonly trouble = signal('');
  /** What is being made just now, in words; nothing where empty. */
  readonly stage = signal('');
  /** The letter that comes next. */
  readonly next = computed(() => letterOf(this.list()?.length ?? 0));
  /** The design as it was released last; undefined until it is here, and where nothing was released. */
  private readonly last = signal<{ letter: string; design: Design } | undefined>(undefined);
  /** What has changed since the last release, in words. */
  readonly changes = computed(() => {
    const last = this.last();
    if (!last) return undefined;
    const list = compareDesigns(last.design, this.doc.design());
    return { letter: last.letter, list: list.map((x) => (x.change === 'changed' ? `${x.what}. ${x.detail}` : `${x.what} ${x.change}`)) };
  });
  /** Everything is on the server: a release is of what is there. */
  readonly saved = computed(() => {
    const saver = this.autosave.saver();
    return saver !== undefined && saver.server() === 'saved' && saver.here() === 'clean';
  });

  constructor() {
    effect(() => {
      const id = this.doc.id();
      if (this.doc.opened() && id) untracked(() => void this.load());
    });
  }

  async load(): Promise<void> {
    const id = this.doc.id();
    try {
      const list = await firstValueFrom(this.api.releases(id));
      if (id !== this.doc.id()) return;
      this.list.set(list);
      this.trouble.set('');
      const [newest] = list;
      if (!newest) return this.last.set(undefined);
      if (this.last()?.letter === newest.letter) return;
      const { design } = await firstValueFrom(this.api.revision(id, newest.revision));
      if (id === this.doc.id()) this.last.set({ letter: newest.letter, design });
    } catch (e) {
      this.trouble.set((e as Error).message);
    }
  }

  /** What the design says to its release; with the list of releases as it is by now. */
  async check(): Promise<Checked> {
    const design = this.doc.design();
    const [found] = await Promise.all([this.papers.checklist(design), this.load()]);
    return { design, ...found, lines: [...found.lines, remarksLine(this.remarks.openCount())] };
  }

  /** Makes the files of what was checked, and releases it; gives what is wrong, in a sentence. */
  async release({ design, lines, home }: Checked, reason: string, parts: ReadonlySet<ReleasePart>): Promise<string | undefined> {
    const id = this.doc.id();
    const revision = this.autosave.saver()?.base;
    if (revision === undefined || !this.saved()) return $localize`The design is not saved yet: wait for “Saved”`;
    if (design !== this.doc.design()) return $localize`The design has changed since it was checked: close this, and check it again`;
    if (!this.list()) return $localize`The list of releases is not here yet: ${this.trouble()}`;
    const letter = this.next();
    try {
      const entries: Record<string, Uint8Array> = {};
      const name = cleanName(design.name).slice(0, LONGEST_NAME).trim() || 'Design';
      const put = (end: string, bytes: Uint8Array): void => void (entries[`${RELEASE_FOLDER}${name} ${letter}${end}`] = bytes);
      if (parts.has('report')) {
        this.stage.set($localize`Making the report …`);
        const marks = [[$localize`Release`, letter] as const, [$localize`Revision`, String(revision)] as const, ...this.papers.who(new Date())];
        put(' report.pdf', await this.papers.reportBytes(design, undefined, 'A4', marks));
      }
      if (parts.has('drawings')) {
        for (const [k, d] of (design.drawings ?? []).entries()) {
          this.stage.set($localize`Making the drawing “${d.name}” …`);
          const { bytes, empty } = await this.drawings.file(design, d, { revision: `${letter} (${revision})` }, 'pdf');
          // A sheet without a view is not handed on.
          if (empty) return $localize`The drawing “${d.name}” shows nothing: ${empty}`;
          put(` drawing ${k + 1} ${cleanName(d.name).slice(0, LONGEST_DRAWING).trim()}.pdf`, bytes);
        }
      }
      if (parts.has('tables')) {
        this.stage.set($localize`Making the tables …`);
        put(' tables.xlsx', await this.papers.tablesBytes(design));
      }
      for (const format of ['step', 'dxf'] as const) {
        if (!parts.has(format)) continue;
        this.stage.set(format === 'step' ? $localize`Making the solids …` : $localize`Making the cutting profiles …`);
        for (const f of await this.filesOf(design, home, format)) put(`${f.suffix}.${f.extension}`, f.bytes);
      }
      if (parts.has('design')) put('.json', new TextEncoder().encode(JSON.stringify(design, null, 1)));
      this.stage.set($localize`Releasing …`);
      const request: ReleaseRequest = { letter, revision, reason: reason.trim() || null, checklist: [...lines] };
      entries[RELEASE_JSON] = new TextEncoder().encode(JSON.stringify(request));
      const line = await firstValueFrom(this.api.release(id, await this.papers.zip(entries)));
      this.doc.said.set($localize`Revision ${line.revision} is released as ${line.letter}`);
      return undefined;
    } catch (e) {
      return (e as Error).message;
    } finally {
      this.stage.set('');
      void this.load();
    }
  }
  /** Files of a format; none where the design has nothing that it holds. */
  private async filesOf(design: Design, home: Float64Array, format: 'step' | 'dxf') {
    if (format === 'dxf' && !(await this.geometry.preview(design, { format }))) return [];
    return (await this.geometry.make(design, home, { format })).files;
  }

  /** Gives a released file to the person. */
  async download(letter: string, file: ReleaseFile): Promise<void> {
    try {
      const bytes = await firstValueFrom(this.api.releaseFile(this.doc.id(), letter, file.name));
      const [, name, end] = /^(.*)\.([^.]+)$/.exec(file.name) ?? [undefined, file.name, 'bin'];
      downloadFile(new Blob([bytes]), name, end);
    } catch (e) {
      this.doc.said.set($localize`The file was not fetched: ${(e as Error).message}`);
    }
  }
}
