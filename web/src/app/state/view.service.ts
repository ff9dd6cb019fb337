import { Injectable, inject, signal } from '@angular/core';
import type { Step } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';
import { UnitsService } from './units.service';
import { DesignService } from './design.service';

export const STEP_LABELS: readonly { step: Step; label: string }[] = [
  { step: 'duty', label: $localize`Duty` },
  { step: 'train', label: $localize`Train` },
  { step: 'layout', label: $localize`Layout` },
  { step: 'motion', label: $localize`Motion` },
  { step: 'loads', label: $localize`Loads` },
  { step: 'rating', label: $localize`Rating` },
  { step: 'release', label: $localize`Release` },
];

/** What a drag in the layout does: moves the train, one member for a look, or places a member. */
export const DRAG_MODES = [
  { mode: 'train', label: $localize`Turn with train`, hint: $localize`Drag a member: all that is coupled follows, until a stop.` },
  { mode: 'alone', label: $localize`Turn alone`, hint: $localize`Drag a member to look at its joint: it goes back when let go.` },
  { mode: 'along', label: $localize`Place along axis`, hint: $localize`Drag a member along its driving axis; it snaps into line.` },
  { mode: 'round', label: $localize`Place round`, hint: $localize`Drag a member round its driving axis; it snaps to 15°, and its teeth mesh.` },
  { mode: 'across', label: $localize`Place across`, hint: $localize`Drag a member to or from its driving axis; it snaps to the working distance.` },
] as const;
export type DragMode = (typeof DRAG_MODES)[number]['mode'];

/** What the layout can be asked to do from elsewhere. */
export interface LayoutTools {
  fitPicture(): void;
  dimension(which: 'circles' | 'distances' | 'travel'): void;
  cutAcross(axis: 'x' | 'y' | 'z'): void;
  saveView(): void;
  overlapHere(): void;
  overlapOnTheWay(): void;
  setPhases(): void;
  loadAtPoint(type: string): void;
  /** Has a point of a member pressed, mm in its own frame. */
  pickPlace(take: (member: Id, at: [number, number, number]) => void): void;
  dragBy(mode: DragMode): void;
}

/** What of the work is looked at, and how: the step, and the members that the layout leaves out or shows through. */
@Injectable()
export class ViewService {
  private readonly doc = inject(DesignService);
  readonly step = signal<Step>('layout');
  /** What places of things are picked for in the layout, where they are. */
  readonly placing = signal<'build' | 'measure' | undefined>(undefined);
  readonly hidden = signal<ReadonlySet<Id>>(new Set());
  readonly through = signal<ReadonlySet<Id>>(new Set());

  readonly units = inject(UnitsService).now;
  private tools: LayoutTools | undefined;
  /** What waits for the layout to be there. */
  private waiting: ((t: LayoutTools) => void) | undefined;

  /** Goes to the layout and has something done there; where it is still being fetched, as soon as it is there. */
  withTools(act: (t: LayoutTools) => void): void {
    this.step.set('layout');
    if (this.tools) act(this.tools);
    else this.waiting = act;
  }
  offerTools(tools: LayoutTools | undefined): void {
    this.tools = tools;
    if (!tools) return;
    this.waiting?.(tools);
    this.waiting = undefined;
  }
  showAll(): void {
    this.hidden.set(new Set());
    this.through.set(new Set());
  }

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
