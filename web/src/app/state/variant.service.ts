import { DestroyRef, Injectable, inject, signal } from '@angular/core';
import { type Table, removeItems, withVaried, withVariant, withVariantAsBase, withVariantChanged } from '@unirota/core';
import type { Design, Id, Variant } from '@unirota/core/document';
import { Latest } from '../engine/latest';
import { lastOwner } from '../engine/owner';
import type { PapersApi } from '../engine/papers.worker';
import { WorkerClient, wasEnded } from '../engine/worker-client';
import { DesignService } from './design.service';

/** Variants of the design: each is an edit; what they come to is worked out in a worker. */
@Injectable()
export class VariantService {
  private readonly doc = inject(DesignService);
  private readonly worker = new WorkerClient<PapersApi>(
    () => new Worker(new URL('../engine/papers.worker', import.meta.url), { type: 'module', name: lastOwner() }),
  );
  readonly trouble = signal('');
  /** Base and variants side by side, of the last state that was worked out. */
  readonly compared = new Latest<Design, Table>(
    (d) => {
      this.trouble.set('');
      return this.worker.call((api) => api.variants(d));
    },
    (e) => !wasEnded(e) && this.trouble.set($localize`The variants were not compared: ${(e as Error).message}`),
  );

  constructor() {
    inject(DestroyRef).onDestroy(() => this.worker.end());
  }

  add(): Id | undefined {
    let id: Id | undefined;
    const trouble = this.doc.edit($localize`Add variant`, (d) => {
      const made = withVariant(d, $localize`Variant`);
      id = made.id;
      return made.design;
    });
    this.trouble.set(trouble ?? '');
    return trouble ? undefined : id;
  }
  /** What is wrong, if it was refused. */
  change(id: Id, changes: Partial<Variant>): string | undefined {
    return this.doc.edit($localize`Change variant`, (d) => withVariantChanged(d, id, changes));
  }
  vary(id: Id, item: Id, field: string, text: string | undefined): string | undefined {
    return this.doc.edit($localize`Change variant`, (d) => withVaried(d, id, item, field, text));
  }
  remove(id: Id): void {
    this.doc.edit($localize`Delete variant`, (d) => removeItems(d, [id]));
  }
  makeBase(id: Id): void {
    const made = withVariantAsBase(this.doc.design(), id, $localize`Base before`);
    if (!made) {
      this.trouble.set($localize`A variant with conflicts, or one that leaves items out, cannot become the base: mend it first`);
      return;
    }
    this.trouble.set(this.doc.edit($localize`Make variant the base`, () => made) ?? '');
  }
}
