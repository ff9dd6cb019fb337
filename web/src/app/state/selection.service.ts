import { Injectable, computed, inject, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Design, Id } from '@unirota/core/document';
import { DesignService } from './design.service';
import { type Kind, LISTS, type Selection } from './items';

/** A stage that is being put in: where it begins, and what is asked for so far. */
export interface Inserting {
  from: Id | undefined;
  /** The coupling of a stage before which it goes, or in whose place. */
  before?: Id;
  instead?: Id;
  /** The kind of stage, where it is chosen already. */
  kind?: string;
}

/** A field of the data sheet waits for what is pressed in the map or the layout. */
export interface Picking {
  readonly field: string;
  readonly kind: Kind;
  readonly label: string;
  readonly take: (id: Id) => void;
}

/** What is selected, pointed at, and being picked for a field. */
@Injectable()
export class SelectionService {
  private readonly doc = inject(DesignService);
  /** What the data sheet shows; `also` is what is selected besides. */
  readonly selection = signal<Selection | undefined>(undefined);
  readonly also = signal<readonly Selection[]>([]);
  readonly selected = computed<readonly Selection[]>(() => {
    const s = this.selection();
    return s ? [s, ...this.also()] : [];
  });
  /** A stage being put in, shown in place of the data sheet. */
  readonly inserting = signal<Inserting | undefined>(undefined);
  /** What a finding points at while it is looked at: lit up in the map. */
  readonly pointed = signal<ReadonlySet<Id>>(new Set());
  /** What is pressed next in the map or the layout is for a field of the data sheet, not a selection. */
  readonly picking = linkedSignal<Selection | undefined, Picking | undefined>({
    // It is over when something else is selected.
    source: () => this.selection(),
    computation: () => undefined,
  });

  constructor() {
    this.doc.changed.pipe(takeUntilDestroyed()).subscribe((d) => this.letGo(d));
  }

  /** Selects an item; with `add` beside what is selected already, or takes it out of it again. */
  select(kind: Kind, id: Id, add = false): void {
    if (this.picking()) return this.picked(kind, id);
    this.inserting.set(undefined);
    const s = this.selection();
    if (!add || !s) return this.only({ kind, id });
    if (s.id === id) {
      const [next, ...rest] = this.also();
      this.selection.set(next);
      this.also.set(rest);
    } else if (this.also().some((x) => x.id === id)) this.also.update((l) => l.filter((x) => x.id !== id));
    else {
      this.also.update((l) => [s, ...l]);
      this.selection.set({ kind, id });
    }
  }
  /** One thing, or nothing, is selected; nothing besides. */
  only(s: Selection | undefined): void {
    this.also.set([]);
    this.selection.set(s);
  }
  isSelected(id: Id): boolean {
    return this.selected().some((s) => s.id === id);
  }

  /** Something was pressed for a field: itself, or what of it the field can mean. */
  private picked(kind: Kind, id: Id): void {
    const p = this.picking()!;
    const d = this.doc.design();
    const fits = ((): Id[] => {
      if (kind === p.kind) return [id];
      if (kind === 'element' && p.kind === 'member') return d.elements.filter((e) => e.id === id).map((e) => e.member);
      if (kind === 'member' && p.kind === 'element') return d.elements.filter((e) => e.member === id).map((e) => e.id);
      if (kind === 'member' && p.kind === 'joint') return d.joints.filter((j) => j.child === id).map((j) => j.id);
      return [];
    })();
    if (fits.length !== 1) {
      this.doc.said.set(
        fits.length
          ? $localize`${p.label}:field:: several of this member could be meant; pick it in the layout or from the list`
          : $localize`${p.label}:field:: this is not one; pick another, or press Esc`,
      );
      return;
    }
    this.picking.set(undefined);
    p.take(fits[0]);
  }

  /** What is no longer there is no longer selected. */
  private letGo(design: Design): void {
    const gone = (x: Selection): boolean => !(design[LISTS[x.kind]] as { id: Id }[]).some((y) => y.id === x.id);
    if (this.also().some(gone)) this.also.update((l) => l.filter((x) => !gone(x)));
    const s = this.selection();
    if (s && gone(s)) this.selection.set(undefined);
  }
}
