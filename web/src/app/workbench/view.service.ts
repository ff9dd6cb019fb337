import { Injectable, inject, signal } from '@angular/core';
import type { Step } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';
import { DesignService } from './design.service';

export const STEP_LABELS: readonly { step: Step; label: string }[] = [
  { step: 'duty', label: 'Duty' },
  { step: 'train', label: 'Train' },
  { step: 'layout', label: 'Layout' },
  { step: 'motion', label: 'Motion' },
  { step: 'loads', label: 'Loads' },
  { step: 'release', label: 'Release' },
];

/** What of the work is looked at, and how: the step, and the members that the layout leaves out or shows through. */
@Injectable()
export class ViewService {
  private readonly doc = inject(DesignService);
  readonly step = signal<Step>('layout');
  /** Parts are being added and put together in the layout. */
  readonly building = signal(false);
  readonly hidden = signal<ReadonlySet<Id>>(new Set());
  readonly through = signal<ReadonlySet<Id>>(new Set());

  toggleSet(which: 'hidden' | 'through', ids: readonly Id[]): void {
    this[which].update((s) => {
      const next = new Set(s);
      const all = ids.every((i) => next.has(i));
      for (const i of ids) {
        if (all) next.delete(i);
        else next.add(i);
      }
      return next;
    });
  }
  /** Shows only the given members. */
  isolate(ids: readonly Id[]): void {
    const keep = new Set(ids);
    this.hidden.set(new Set([...this.doc.design().members.map((m) => m.id), FRAME].filter((m) => !keep.has(m))));
  }
}
