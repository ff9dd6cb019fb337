import { DOCUMENT, DestroyRef, Injectable, inject, signal } from '@angular/core';
import { proxy } from 'comlink';
import type { Design } from '@unirota/core/document';
import type { GeometryOptions } from '@unirota/solids';
import type { GeometryApi, GeometryRun, Preview } from '../engine/geometry.worker';
import { WorkerClient } from '../engine/worker-client';
import { downloadFile } from './downloads';
import { KERNEL } from './kernel-address';
import { ShapesService } from './shapes.service';

/** Why a question has no answer where the person ended the work. */
export const ENDED = 'ended by the person';

/** Files of a design's geometry, written in a worker beside the work; the geometry kernel is loaded with the first STEP file. */
@Injectable()
export class GeometryService {
  private readonly page = inject(DOCUMENT);
  private readonly shapes = inject(ShapesService);
  private readonly worker = new WorkerClient<GeometryApi>(
    () => new Worker(new URL('../engine/geometry.worker', import.meta.url), { type: 'module' }),
  );
  /** How much of the files in the making is done; none are being made where undefined. */
  readonly done = signal<number | undefined>(undefined);
  readonly said = signal('');
  readonly trouble = signal('');
  readonly notes = signal<readonly string[]>([]);

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.close(ENDED));
  }

  preview(design: Design, options: GeometryOptions): Promise<Preview | undefined> {
    return this.worker.call((api) => api.preview(design, options));
  }

  /** Writes the files and gives them to the person. */
  async write(design: Design, free: Float64Array, options: GeometryOptions, run?: GeometryRun): Promise<void> {
    this.clear();
    this.done.set(0);
    const kernel = new URL(KERNEL, this.page.baseURI).href;
    try {
      const contents = await this.shapes.allOf(design);
      const made = await this.worker.call((api) =>
        api.write(
          design,
          free,
          options,
          kernel,
          proxy((part: number) => this.done.set(part)),
          run,
          contents,
        ),
      );
      for (const f of made.files) downloadFile(new Blob([f.bytes]), `${design.name}${f.suffix}`, f.extension);
      this.notes.set(made.notes);
      this.said.set(made.files.length > 1 ? $localize`${made.files.length} files are downloaded.` : $localize`The file is downloaded.`);
    } catch (e) {
      const why = (e as Error).message;
      if (why !== ENDED) this.trouble.set($localize`The file was not made: ${why}`);
    } finally {
      this.done.set(undefined);
    }
  }

  clear(): void {
    this.said.set('');
    this.trouble.set('');
    this.notes.set([]);
  }

  /** Ends the work: its worker goes, and the next file has a new one. */
  end(): void {
    this.worker.close(ENDED);
  }
}
