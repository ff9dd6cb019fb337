import { DOCUMENT, DestroyRef, Injectable, effect, inject, signal } from '@angular/core';
import { firstValueFrom } from 'rxjs';
import { contentsIn } from '@unirota/core/elements';
import type { Design } from '@unirota/core/document';
import { holdContent } from '@unirota/core/shapes';
import type { MeshUnit } from '@unirota/solids';
import { tooLarge } from '@unirota/solids/formats';
import { proxy } from 'comlink';
import type { DrawnContent, PartsApi, PartsRead } from '../engine/parts.worker';
import { WorkerClient, wasEnded } from '../engine/worker-client';
import { ApiService, ServerTrouble } from './api.service';
import { DesignService } from './design.service';
import { downloadFile, downloadJson } from './downloads';
import { HeldContents } from './held-contents.service';
import { KERNEL } from './kernel-address';
import { SessionService } from './session.service';
import type { ShapeContents } from '../engine/shape-contents';

/** How long after the server did not take a content it is sent again, ms. */
const SEND_AGAIN = 8000;

/**
 * Contents of imported shapes: read from files in a worker, kept on this machine, sent to the server with the design that names
 * them, and brought from there to be drawn.
 */
@Injectable()
export class ShapesService {
  private readonly api = inject(ApiService);
  private readonly doc = inject(DesignService);
  private readonly held = inject(HeldContents);
  private readonly page = inject(DOCUMENT);
  private readonly owner = inject(SessionService).owner();
  private kept: Promise<ShapeContents> | undefined;
  /** What is kept on this machine; loaded with the first shape. */
  private contents(): Promise<ShapeContents> {
    return (this.kept ??= import('../engine/shape-contents').then((m) => new m.ShapeContents(this.owner)));
  }
  private readonly reader = new WorkerClient<PartsApi>(() => new Worker(new URL('../engine/parts.worker', import.meta.url), { type: 'module' }));
  /** Draws while the other reads a file for minutes. */
  private readonly drawer = new WorkerClient<PartsApi>(() => new Worker(new URL('../engine/parts.worker', import.meta.url), { type: 'module' }));
  /** Surfaces that are at hand, by hash. */
  readonly drawn = signal<ReadonlyMap<string, DrawnContent>>(new Map());
  /** How much of the file that is being read is done; none is where undefined. */
  readonly reading = signal<number | undefined>(undefined);
  private readonly asked = new Set<string>();
  /** Contents that the server has, of the design with this id. */
  private onServer: { id: string; hashes: Set<string> } | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    effect(() => {
      const d = this.doc.design();
      if (!this.doc.opened()) return;
      const hashes = contentsIn(d.elements);
      for (const hash of hashes) if (!this.asked.has(hash)) void this.bring(hash);
      if (hashes.length) this.send();
    });
    const again = (): void => this.send();
    addEventListener('online', again);
    inject(DestroyRef).onDestroy(() => {
      removeEventListener('online', again);
      clearTimeout(this.timer);
      this.reader.close();
      this.drawer.close();
    });
  }

  /** Reads a file; the parts' contents are kept when they are taken. Undefined where the person ended it. */
  async read(file: File, unit: MeshUnit): Promise<PartsRead | undefined> {
    const large = tooLarge(file.size);
    if (large !== undefined) return { problem: large };
    this.reading.set(0);
    try {
      const bytes = new Uint8Array(await file.arrayBuffer());
      const kernel = new URL(KERNEL, this.page.baseURI).href;
      return await this.reader.call(async (api): Promise<PartsRead> =>
        api.read(
          bytes,
          file.name,
          unit,
          kernel,
          proxy((x: number) => this.reading.set(x)),
        ),
      );
    } catch (e) {
      if (wasEnded(e)) return undefined;
      return { problem: $localize`The file could not be read: ${(e as Error).message}` };
    } finally {
      this.reading.set(undefined);
    }
  }
  end(): void {
    this.reader.end();
  }

  /** Keeps contents on this machine: before the design names them, so that nothing is named that is nowhere. */
  async keep(contents: ReadonlyMap<string, Uint8Array<ArrayBuffer>>): Promise<void> {
    for (const [hash, bytes] of contents) {
      await this.contents()
        .then((c) => c.put(hash, bytes, this.doc.id()))
        .catch(() => this.fresh.set(hash, bytes));
    }
  }
  /** Contents of this page's life, where storage is blocked. */
  private readonly fresh = new Map<string, Uint8Array<ArrayBuffer>>();

  /** The stored bytes of a content: from this page, this machine, or the server. */
  async bytes(hash: string): Promise<Uint8Array<ArrayBuffer> | undefined> {
    const here =
      this.fresh.get(hash) ??
      (await this.contents()
        .then((c) => c.get(hash))
        .catch(() => undefined));
    if (here) return here;
    const there = await firstValueFrom(this.api.shape(this.doc.id(), hash)).catch((e: ServerTrouble) => {
      if (e.passing) throw e;
      return undefined;
    });
    if (!there) return undefined;
    const bytes = new Uint8Array(there);
    await this.contents()
      .then((c) => c.put(hash, bytes))
      .catch(() => undefined);
    return bytes;
  }
  /** All contents that a design names and that can be had. */
  async allOf(d: Design): Promise<Map<string, Uint8Array<ArrayBuffer>>> {
    const out = new Map<string, Uint8Array<ArrayBuffer>>();
    for (const hash of contentsIn(d.elements)) {
      const bytes = await this.bytes(hash).catch(() => undefined);
      if (bytes) out.set(hash, bytes);
    }
    return out;
  }

  /** Gives the design to the person: the document, or one file with its shapes where it has some. */
  async downloadDesign(): Promise<void> {
    const d = this.doc.design();
    if (!contentsIn(d.elements).length) return downloadJson(d, d.name);
    const contents = await this.allOf(d);
    const zip = await this.drawer.call((api) => api.zip(d, contents));
    downloadFile(new Blob([zip]), d.name, 'unirota.zip');
    const lacking = contentsIn(d.elements).length - contents.size;
    if (lacking) this.doc.said.set($localize`${lacking} shapes are not in the file: their content is not here`);
  }

  private async bring(hash: string): Promise<void> {
    this.asked.add(hash);
    try {
      const bytes = await this.bytes(hash);
      const read = bytes && (await this.drawer.call((api) => api.drawn(bytes, hash)));
      if (read) {
        const { drawn, surface } = read;
        holdContent(hash, () => surface);
        this.drawn.update((m) => new Map(m).set(hash, drawn));
        this.held.arrived.update((n) => n + 1);
      } else this.held.missing.update((m) => new Set(m).add(hash));
    } catch {
      // The server does not answer: asked again with the next change, or when it is there.
      this.asked.delete(hash);
      this.later();
    }
  }

  private sending = false;
  private later(): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      for (const hash of contentsIn(this.doc.design().elements)) if (!this.asked.has(hash)) void this.bring(hash);
      this.send();
    }, SEND_AGAIN);
  }
  /** Sends what the design names and the server has not got. */
  private send(): void {
    if (this.sending || this.doc.readOnly()) return;
    this.sending = true;
    void this.sendAll().then(
      () => (this.sending = false),
      (e: Error) => {
        this.sending = false;
        if (e instanceof ServerTrouble && e.passing) this.later();
        else this.doc.said.set($localize`A shape is on this machine only: ${e.message}`);
      },
    );
  }
  private async sendAll(): Promise<void> {
    const id = this.doc.id();
    const wanted = contentsIn(this.doc.design().elements);
    if (!id || !wanted.length) return;
    if (this.onServer?.id !== id) this.onServer = { id, hashes: new Set(await firstValueFrom(this.api.shapes(id))) };
    const { hashes } = this.onServer;
    for (const hash of wanted) {
      if (hashes.has(hash)) continue;
      const bytes =
        this.fresh.get(hash) ??
        (await this.contents()
          .then((c) => c.get(hash))
          .catch(() => undefined));
      if (!bytes) continue;
      await firstValueFrom(this.api.putShape(id, hash, bytes));
      hashes.add(hash);
      await this.contents()
        .then((c) => c.taken(hash, id))
        .catch(() => undefined);
    }
  }
}
