import { DOCUMENT, DestroyRef, Injectable, inject, signal } from '@angular/core';
import { proxy } from 'comlink';
import type { Design } from '@unirota/core/document';
import type { Geometry, GeometryOptions } from '@unirota/solids';
import type { GeometryApi, GeometryRun, Preview } from '../engine/geometry.worker';
import { WorkerClient, wasEnded } from '../engine/worker-client';
import { downloadFile } from './downloads';
import { KERNEL } from './kernel-address';
import { ShapesService } from './shapes.service';

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
    inject(DestroyRef).onDestroy(() => this.worker.end());
  }

  preview(design: Design, options: GeometryOptions): Promise<Preview | undefined> {
    return this.worker.call((api) => api.preview(design, options));
  }

  /** The files, made beside the work; `done` follows how far it has come. */
  async make(
    design: Design,
    free: Float64Array,
    options: GeometryOptions,
    run?: GeometryRun,
    done: (part: number) => void = () => undefined,
  ): Promise<Geometry> {
    const kernel = new URL(KERNEL, this.page.baseURI).href;
    const contents = await this.shapes.allOf(design);
    return this.worker.call((api): Promise<Geometry> => api.write(design, free, options, kernel, proxy(done), run, contents));
  }

  /** Writes the files and gives them to the person. */
  async write(design: Design, free: Float64Array, options: GeometryOptions, run?: GeometryRun): Promise<void> {
    this.clear();
    this.done.set(0);
    try {
      const made = await this.make(design, free, options, run, (part) => this.done.set(part));
      for (const f of made.files) downloadFile(new Blob([f.bytes]), `${design.name}${f.suffix}`, f.extension);
      this.notes.set(made.notes);
      this.said.set(made.files.length > 1 ? $localize`${made.files.length} files are downloaded.` : $localize`The file is downloaded.`);
    } catch (e) {
      const why = (e as Error).message;
      if (!wasEnded(e)) this.trouble.set($localize`The file was not made: ${why}`);
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
    this.worker.end();
  }
}
