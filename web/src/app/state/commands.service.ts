import { listed } from '@unirota/core/units';
import { Injectable, inject } from '@angular/core';
import {
  Cure,
  NotReworked,
  Reworked,
  Values,
  OUTSIDE,
  connectionsOf,
  deletionEffects,
  insertBefore,
  insertStages,
  newLoad,
  fittedTo,
  itemsOfPiece,
  pieceOf,
  sameTargets,
  removeItems,
  type DeletionEffects,
  replaceStage,
  settle,
  withInputShaft,
  type LoadAt,
  withLoad,
  withPiece,
  type Insertion,
  withGroup,
  withJointPlace,
  slidesAt,
} from '@unirota/core';
import { Subject } from 'rxjs';
import { type Design, type Id, readDesign } from '@unirota/core/document';
import { DesignService } from './design.service';
import { MotionService } from './motion.service';
import { type Inserting, SelectionService } from './selection.service';
import { ViewService } from './view.service';

/** A deletion, what it would bring about, and how it is done. */
export interface Deletion {
  name: string;
  effects: DeletionEffects;
  go(): void;
}

/** A piece that is to be put in: from the clipboard, or off the shelf, where it has an origin. */
export interface PieceRequest {
  readonly piece: Design;
  readonly origin?: { readonly design: Id; readonly revision: number };
}
/** Characters of a text that is taken for a copied piece, at most. */
const LONGEST_TEXT = 8_000_000;

/** Parts that are to be imported: out of these files, where they were dropped; in place of a shape, where one is named. */
export interface ImportRequest {
  readonly files?: readonly File[];
  readonly replace?: Id;
}

/**
 * What a person can have done to the design by name: edits that take
 * what is selected or where the train stands, and select what they made.
 */
@Injectable()
export class CommandsService {
  private readonly doc = inject(DesignService);
  private readonly chosen = inject(SelectionService);
  private readonly motion = inject(MotionService);
  private readonly view = inject(ViewService);
  /** What was copied last, and in which design. */
  private clipboard: { piece: Design; from: Id } | undefined;

  /** Files with parts are to be taken in; or a newer file for a shape. */
  readonly imports = new Subject<ImportRequest>();
  import(request: ImportRequest = {}): void {
    if (!this.doc.readOnly()) this.imports.next(request);
    else this.doc.said.set($localize`Nothing can be imported here: the design cannot be edited`);
  }

  /** Begins or ends building: parts are connected in the layout, where they stand at rest. */
  build(): void {
    this.place('build');
  }
  /** Begins or ends measuring between places, where they stand at rest. */
  measure(): void {
    this.place('measure');
  }
  private place(what: 'build' | 'measure'): void {
    const begins = this.view.placing() !== what;
    if (begins) {
      this.motion.toReference();
      this.view.step.set('layout');
    }
    this.view.placing.set(begins ? what : undefined);
  }

  /**
   * Puts a stage, or several of a kind one behind the other, into the train at a
   * member (an input shaft of its own in an empty design) and selects its coupling.
   */
  insert(kind: string, label: string, sizes: readonly Values[], at: Inserting, typed: Readonly<Record<string, string>> = {}): string | undefined {
    const d = this.doc.design();
    const made: Reworked | NotReworked | undefined = at.before
      ? insertBefore(d, at.before, { kind, values: sizes[0], typed })
      : at.instead
        ? replaceStage(d, at.instead, { kind, values: sizes[0], typed })
        : insertStages(d, { kind, from: at.from, typed }, sizes);
    if (made?.problem !== undefined) return made.problem;
    if (!made) return 'a stage of this kind cannot begin at this member: choose one that turns about its own axis';
    const trouble = this.doc.edit(`${at.instead ? $localize`Replace by` : $localize`Insert`} ${label.toLowerCase()}`, () => made.design);
    if (trouble) return trouble;
    this.chosen.inserting.set(undefined);
    const c = made.coupling;
    this.chosen.only(c ? { kind: 'coupling', id: c } : { kind: 'member', id: made.output });
    const moved = made.moved?.length ? `. Wanted output moved along: ${listed(made.moved)}` : '';
    this.doc.said.set(`${sizes.length > 1 ? $localize`${sizes.length} stages are` : `${label} is`} in and meshed${moved}`);
    return undefined;
  }

  /** A source on the frame's first shaft, where the design has none yet. */
  beginWith(type: string, label: string, fields: Record<string, unknown> = {}): void {
    const made = withInputShaft(this.doc.design(), { type, name: label, fields });
    this.doc.edit($localize`Add ${label.toLowerCase()}`, () => made.design);
    const s = this.doc.design().sources.at(-1);
    if (s) this.chosen.select('source', s.id);
  }

  cure(c: Cure): void {
    const trouble = this.doc.edit(c.label, (d) => c.apply(d));
    this.doc.said.set(trouble ?? $localize`Done: ${c.label}`);
  }

  /**
   * The member at which something is to go on: the selected one,
   * that of the selected thing, else the shaft that a source drives.
   */
  memberAt(): Id | undefined {
    const d = this.doc.design();
    const s = this.chosen.selection();
    const childOf = (joint: string | undefined): Id | undefined => d.joints.find((j) => j.id === joint?.split(':')[0])?.child;
    if (s?.kind === 'member') return s.id;
    if (s?.kind === 'element') return d.elements.find((e) => e.id === s.id)?.member;
    if (s?.kind === 'joint') return childOf(s.id);
    const source = s?.kind === 'source' ? d.sources.find((x) => x.id === s.id) : d.sources[0];
    return childOf(source?.joint);
  }

  /** Puts a load of a kind where asked, else on what was built last, and shows it. */
  addLoad(type: string, at: LoadAt = {}): void {
    const load = newLoad(this.doc.design(), type, { sense: (c) => this.motion.senseOf(c), ...at });
    if (!load) return this.doc.said.set($localize`There is nothing yet that a load could act on: insert a stage first`);
    const trouble = this.doc.edit($localize`Add ${load.name.toLowerCase()}`, (d) => withLoad(d, load));
    if (trouble) this.doc.said.set(trouble);
    else this.chosen.select('load', load.id);
  }

  /** Copies what is selected with its connections; gives it as a text for the clipboard, which is a design of its own. */
  copy(): string | undefined {
    const selected = this.chosen.selected();
    if (!selected.length) return undefined;
    const first = this.doc.item(selected[0]) as { name?: string } | undefined;
    const piece = pieceOf(
      this.doc.design(),
      selected.map((s) => s.id),
      (selected.length === 1 && first?.name) || $localize`Copied items`,
    );
    const n = piece ? itemsOfPiece(piece).size : 0;
    this.doc.said.set(n ? $localize`Copied: ${n} items` : $localize`Nothing of this can be copied by itself`);
    if (!piece) return undefined;
    const from = this.doc.id();
    this.clipboard = { piece, from };
    // In another design its connections are asked for.
    const marked = { ...piece, groups: piece.groups?.map((g) => (g.id === OUTSIDE && from ? { ...g, origin: from } : g)) };
    return JSON.stringify(marked);
  }
  /** Copies to the clipboard of the machine as well, where the page may. */
  copyToClipboard(): void {
    const text = this.copy();
    if (text) void navigator.clipboard?.writeText(text).catch(() => undefined);
  }
  /** What waits to be put in with its connections asked for. */
  readonly pieces = new Subject<PieceRequest>();
  /** Puts in what was copied: the piece that a text of the clipboard is; what was copied here last where there is no text. */
  paste(text?: string): void {
    const taken = text?.trim() ? this.pieceIn(text) : this.clipboard;
    if (!taken) {
      const nothing = $localize`Nothing is copied yet: select something and copy it`;
      return this.doc.said.set(text?.trim() ? $localize`What is on the clipboard is no part of a design` : nothing);
    }
    if (this.doc.readOnly()) return this.doc.said.set($localize`Nothing can be pasted here: the design cannot be edited`);
    const { piece, from } = taken;
    const to = from === this.doc.id() ? sameTargets(this.doc.design(), piece) : new Map<Id, Id>();
    if (to.size < connectionsOf(piece).length) this.pieces.next({ piece });
    else this.insertPiece(piece, { to });
  }
  /** As `paste`, of what the clipboard of the machine holds, where the page may read it. */
  async pasteFromClipboard(): Promise<void> {
    this.paste(await navigator.clipboard?.readText().catch(() => undefined));
  }
  /** The piece that a text is; undefined where it is no design. */
  private pieceIn(text: string): { piece: Design; from: Id } | undefined {
    if (text.length > LONGEST_TEXT || !/^\s*\{/.test(text)) return undefined;
    try {
      const { design } = readDesign(JSON.parse(text) as unknown);
      return design && { piece: design, from: design.groups?.find((g) => g.id === OUTSIDE)?.origin ?? '' };
    } catch {
      return undefined;
    }
  }
  /** Puts a piece in, its teeth fitted to what it meshes with, and selects it; what is wrong, if it was refused. */
  insertPiece(piece: Design, insertion: Insertion): string | undefined {
    const design = this.doc.design();
    const fitted = fittedTo(design, piece, insertion.to);
    const made = withPiece(design, fitted.piece, insertion);
    const trouble = this.doc.edit($localize`Insert ${piece.name}`, () => made.design);
    if (trouble) return trouble;
    const first = made.made.map((id) => this.doc.find(id)).find((s) => s?.kind === 'member' || s?.kind === 'element');
    if (first) this.chosen.selection.set(first);
    this.doc.said.set([$localize`${piece.name} is in`, ...fitted.said].join('. '));
    return undefined;
  }
  /** A copy of items, connected as they are. */
  duplicate(ids: readonly Id[]): void {
    const design = this.doc.design();
    const piece = pieceOf(design, ids, $localize`Copy`);
    if (piece) this.insertPiece(piece, { to: sameTargets(design, piece) });
  }
  removeSelected(): void {
    const all = this.chosen.selected();
    if (!all.length) return;
    const name = all.length === 1 ? String((this.doc.item(all[0]) as { name?: string } | undefined)?.name ?? all[0].id) : `${all.length} items`;
    this.ask(
      name,
      all.map((s) => s.id),
    );
  }
  /** A deletion that takes more with it than was asked for: to be agreed to before it is done. */
  readonly asked = new Subject<Deletion>();
  private ask(name: string, ids: readonly Id[]): void {
    const go = (): void => {
      if (ids.some((id) => this.chosen.selected().some((s) => s.id === id))) this.chosen.only(undefined);
      const trouble = this.doc.edit($localize`Delete ${name}`, (d) => removeItems(d, ids));
      if (trouble) this.doc.said.set(trouble);
    };
    const effects = this.doc.readOnly() ? undefined : deletionEffects(this.doc.design(), ids);
    if (effects && (effects.along.length || effects.loose.length || effects.losing.length)) this.asked.next({ name, effects, go });
    else go();
  }
  group(): void {
    const items = this.chosen.selected().map((s) => s.id);
    if (items.length < 2) return;
    this.doc.edit($localize`Group`, (d) => withGroup(d, items));
  }

  /** The stop or home of a joint becomes where the hand has found it. */
  takeFromHand(joint: Id, which: 'lower' | 'upper' | 'home'): string | undefined {
    const w = this.motion.worked();
    const i = w.compiled.structure.firstOf.get(joint);
    if (i === undefined) return undefined;
    const slide = slidesAt(w.pose.kinematics, i);
    const value = Number(((w.pose.q[i] / w.pose.kinematics.scale[i]) * (slide ? 1 : 360)).toFixed(slide ? 4 : 5));
    const word = which === 'home' ? 'home' : `${which} stop`;
    return this.doc.edit($localize`Set ${word} here`, (d) => withJointPlace(d, joint, which, value));
  }

  /** Takes an item out of the design. */
  remove(id: Id, name: string): void {
    this.ask(name, [id]);
  }

  /** Brings the train to its working distances and teeth into spaces, because the person asked for it. */
  fit(): void {
    this.doc.edit($localize`Fit the train`, (d) => settle(d).design);
    this.doc.said.set($localize`Working distances and phases are set`);
  }
}
