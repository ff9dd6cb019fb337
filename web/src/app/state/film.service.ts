import { DestroyRef, Injectable, inject, signal } from '@angular/core';
import { proxy } from 'comlink';
import { WorkerClient } from '../engine/worker-client';
import { downloadFile } from './downloads';
import type { FilmApi, FilmOrder } from '../engine/film.worker';
import type { Film } from '../scene/film';

/** Films that are drawn and encoded in a worker, beside the work. */
@Injectable()
export class FilmService {
  private readonly worker = new WorkerClient<FilmApi>(() => new Worker(new URL('../engine/film.worker', import.meta.url), { type: 'module' }));
  /** How much of the film in the making is done; none is being made where undefined. */
  readonly done = signal<number | undefined>(undefined);
  readonly said = signal('');
  readonly trouble = signal('');

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.close());
  }

  /** Makes a film and gives it to the person when it is made, whatever is looked at then. */
  async make(order: FilmOrder, name: string): Promise<void> {
    this.begin();
    try {
      const film = await this.worker.call((api) =>
        api.make(
          order,
          proxy((part: number) => this.done.set(part)),
        ),
      );
      this.give(film, name);
    } catch (e) {
      this.trouble.set($localize`The film was not made: ${(e as Error).message}`);
    } finally {
      this.done.set(undefined);
    }
  }
  begin(): void {
    this.said.set('');
    this.trouble.set('');
    this.done.set(0);
  }
  give(film: Film, name: string): void {
    downloadFile(film.content, name, film.extension);
    this.said.set(
      film.extension === 'zip'
        ? $localize`${film.pictures} pictures are in the zip file: this browser encodes no film`
        : $localize`${film.pictures} pictures are in the film (${film.extension})`,
    );
  }
  /** Ends the film where it is. */
  end(): void {
    void this.worker.call((api) => api.end());
  }
}

/** Where the browser fetched the face of the numbers from, at the weight of a film's; undefined where it has none. */
export function faceOf(family: string, weight: string): string | undefined {
  for (const sheet of document.styleSheets) {
    let rules: CSSRuleList;
    try {
      rules = sheet.cssRules;
    } catch {
      // Of another origin.
      continue;
    }
    for (const rule of rules) {
      if (!(rule instanceof CSSFontFaceRule)) continue;
      const { style } = rule;
      if (!style.getPropertyValue('font-family').includes(family) || style.getPropertyValue('font-weight') !== weight) continue;
      // The figures are in the file of the Latin letters, not in that of the further ones.
      const url = /url\("?([^")]+-latin-\d[^")]*)"?\)/.exec(style.getPropertyValue('src'))?.[1];
      if (url) return new URL(url, sheet.href ?? document.baseURI).href;
    }
  }
  return undefined;
}
