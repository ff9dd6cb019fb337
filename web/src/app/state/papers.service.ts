import { DOCUMENT, DestroyRef, Injectable, inject, signal } from '@angular/core';
import type { ChapterKey } from '@unirota/core';
import type { Paper } from '@unirota/core/pdf';
import { lastOwner } from '../engine/owner';
import type { PapersApi } from '../engine/papers.worker';
import { WorkerClient } from '../engine/worker-client';
import { AutosaveService } from './autosave.service';
import { DesignService } from './design.service';
import { downloadFile } from './downloads';
import { SessionService } from './session.service';

/** Where the build puts the typefaces of reports, beside the page. */
const FONTS = 'fonts/';
const ENDED = 'ended by the person';

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
    inject(DestroyRef).onDestroy(() => this.worker.close(ENDED));
  }

  /** All tables of the design as one file. */
  async tables(): Promise<void> {
    const d = this.doc.shownDesign();
    try {
      downloadFile(new Blob([await this.worker.call((api) => api.tables(d))]), `${d.name} tables`, 'xlsx');
    } catch (e) {
      this.doc.said.set($localize`The tables could not be written: ${(e as Error).message}`);
    }
  }

  /** The report with these chapters as PDF; undefined where it was not made, or somebody ended it. */
  async report(chapters: readonly ChapterKey[], paper: Paper): Promise<Blob | undefined> {
    const d = this.doc.design();
    const date = new Date();
    this.trouble.set('');
    this.making.set(true);
    try {
      const fonts = new URL(FONTS, this.page.baseURI).href;
      const marks = this.marks(date);
      const bytes = await this.worker.call((api) => api.report(d, { chapters, paper, date: date.getTime(), fonts, marks }));
      return new Blob([bytes], { type: 'application/pdf' });
    } catch (e) {
      const why = (e as Error).message;
      if (why !== ENDED) this.trouble.set($localize`The report was not made: ${why}`);
      return undefined;
    } finally {
      this.making.set(false);
    }
  }
  /** Ends the work: its worker goes, and the next report has a new one. */
  end(): void {
    this.worker.close(ENDED);
  }

  /** What tells a report from another: revision, date, person. */
  private marks(date: Date): [string, string][] {
    const saver = this.autosave.saver();
    const looked = this.doc.revision();
    const revision = looked ?? saver?.base;
    const unsaved = looked === undefined && saver !== undefined && (saver.server() !== 'saved' || saver.here() !== 'clean');
    const person = this.person()?.person?.name;
    return [
      ...(revision === undefined
        ? []
        : [[$localize`Revision`, unsaved ? $localize`${revision} with changes` : String(revision)] as [string, string]]),
      [$localize`Date`, `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, '0')}-${String(date.getDate()).padStart(2, '0')}`],
      ...(person ? [[$localize`By`, person] as [string, string]] : []),
    ];
  }
}
