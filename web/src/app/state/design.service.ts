import { Injectable, computed, signal } from '@angular/core';
import { Subject } from 'rxjs';
import { hasWeight, inCase, withSettings, withWeight, withFormulas } from '@unirota/core';
import { Design, ITEM_LISTS, Id, type Settings, emptyDesign, mergeDesigns, readDesign } from '@unirota/core/document';
import type { May } from '@unirota/contract';
import { type Carry, type History, type Travelled, emptyHistory, redo, undo, withStep } from './history';
import { LISTS, type Selection, itemOf } from './items';

const READ_ONLY = {
  shared: $localize`You may look at this design, not edit it: duplicate it to have one of your own`,
  revision: $localize`This is an earlier revision: bring it back to go on from it`,
} as const;

/** A step made in a design that others have changed since. */
const carried: Carry<Design> = (present, from, to) => {
  const { design, clashes } = mergeDesigns(from, present, to);
  const clash = clashes.length ? $localize`the same was changed elsewhere since. ${clashes[0]}` : readDesign(design).problems?.[0].message;
  return clash === undefined ? { state: design } : { clash };
};

const MECHANISM = [...ITEM_LISTS, 'settings'] as const;

/** The document that is open, with its named history: every edit goes through here, is checked, and can be undone. */
@Injectable()
export class DesignService {
  readonly design = signal<Design>(emptyDesign('…'));
  readonly id = signal('');
  /** An old revision that is looked at. */
  readonly revision = signal<number | undefined>(undefined);
  readonly may = signal<May>('edit');
  readonly opened = signal(false);
  readonly failure = signal<string | undefined>(undefined);
  /** Why nothing can be edited: the person may look only, or this is an old revision. */
  readonly readOnly = signal<'' | keyof typeof READ_ONLY>('');
  readonly history = signal<History<Design>>(emptyHistory());
  /** What came of the last command. */
  readonly said = signal('');
  /** The last step, for as long as its undoing is offered beside what was said. */
  readonly recent = signal('');
  /** The load case that is shown; as stated where none is. */
  readonly loadCase = signal<Id | undefined>(undefined);
  /** The design as it is shown: in the load case that is chosen. */
  readonly shownDesign = computed(() => inCase(this.design(), this.loadCase()));
  /**
   * The same, and the same object for as long as nothing of it moves or
   * loads otherwise: names of views, runs and the like do not count.
   */
  readonly mechanism = computed(() => this.shownDesign(), { equal: (a, b) => MECHANISM.every((k) => a[k] === b[k]) });

  /** Before the document becomes another, and after it has. */
  readonly before = new Subject<void>();
  readonly changed = new Subject<Design>();
  /** A person made a step here, or took one back: to be kept. */
  readonly edited = new Subject<{ design: Design; back?: boolean }>();
  /** The document is left. */
  readonly ended = new Subject<void>();

  /** Another document is about to come. */
  begin(id: string, revision?: number): void {
    this.ended.next();
    this.id.set(id);
    this.revision.set(revision);
    this.opened.set(false);
    this.failure.set(undefined);
    this.history.set(emptyHistory());
  }
  show(design: Design, readOnly: '' | keyof typeof READ_ONLY): void {
    this.readOnly.set(readOnly);
    this.design.set(design);
    this.opened.set(true);
  }
  /**
   * A state that came from elsewhere. It is no step of this tab's:
   * undoing takes back what was done here, and leaves what others did.
   */
  adopt(after: Design): void {
    if (!this.opened()) return this.design.set(after);
    this.before.next();
    this.take(after);
  }

  /** Applies an edit under a name; what does not pass the schema never reaches the design. Gives the problem, or undefined. */
  edit(name: string, change: (d: Design) => Design, merge = false): string | undefined {
    if (!this.opened()) return $localize`The design is not open yet: wait a moment`;
    const readOnly = this.readOnly();
    if (readOnly) {
      this.said.set(READ_ONLY[readOnly]);
      return READ_ONLY[readOnly];
    }
    const before = this.design();
    const made = change(before);
    if (made === before) return undefined;
    const { design: after, problem } = withFormulas(made, before);
    if (problem !== undefined) return problem;
    const read = readDesign(after);
    if (read.problems) return read.problems[0].message;
    this.before.next();
    this.history.update((h) => withStep(h, { name, before, after }, merge));
    this.recent.set(name);
    this.said.set('');
    this.put(after);
    return undefined;
  }

  /** States settings of the design otherwise; what is undefined is stated no more. */
  editSettings(name: string, changes: Partial<Settings>): string | undefined {
    return this.edit(name, (d) => withSettings(d, changes));
  }
  readonly weight = computed(() => hasWeight(this.design()));
  setWeight(on: boolean): void {
    this.edit(on ? $localize`Include weight` : $localize`Exclude weight`, (d) => withWeight(d, on));
  }

  /** Shows a state of the design without making it an edit: while something is dragged. */
  preview(design: Design): void {
    if (this.readOnly()) return;
    this.before.next();
    this.take(design);
  }

  undo(): void {
    this.travel(undo(this.history(), this.design(), carried), $localize`Undone`, $localize`Cannot undo`);
  }
  redo(): void {
    this.travel(redo(this.history(), this.design(), carried), $localize`Done again`, $localize`Cannot redo`);
  }
  private travel(r: Travelled<Design> | undefined, word: string, not: string): void {
    if (!r) return;
    this.before.next();
    this.history.set(r.history);
    if (r.state) this.put(r.state, true);
    this.recent.set('');
    this.said.set(r.state ? `${word}: ${r.name}` : `${not} “${r.name}”: ${r.clash}`);
  }
  private put(design: Design, back = false): void {
    this.take(design);
    this.edited.next({ design, back });
  }
  private take(design: Design): void {
    this.design.set(design);
    this.changed.next(design);
  }

  item(sel: Selection | undefined): Record<string, unknown> | undefined {
    if (!sel) return undefined;
    return (this.design()[LISTS[sel.kind]] as { id: Id }[]).find((x) => x.id === sel.id) as Record<string, unknown> | undefined;
  }
  /** Any id to what it is. */
  find(id: Id): Selection | undefined {
    const found = itemOf(this.design(), id);
    return found && { kind: found.kind, id };
  }
  /** Does a joint carry this member, so that a stage can begin at it? */
  hasJoint(member: Id): boolean {
    return this.design().joints.some((j) => j.child === member && j.type !== 'fixed');
  }
}
