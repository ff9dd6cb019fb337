import { Injectable, computed, inject, signal, untracked } from '@angular/core';
import { Subject } from 'rxjs';
import { Worked, analyse } from '@unirota/core/checks';
import { Design, Finding, Id, emptyDesign, readDesign } from '@unirota/core/design';
import { ledger, nominalRate } from '@unirota/core/forces';
import { Hand, Held } from '@unirota/core/mechanism';
import { settle } from '@unirota/core/sizing';
import { ApiService } from '../services/api.service';
import { drafts } from '../services/drafts';
import { History, emptyHistory, redo, undo, withStep } from '../services/history';
import { Saver } from '../services/saver';

export type Kind = 'member' | 'joint' | 'element' | 'coupling' | 'source' | 'load' | 'wanted';
export interface Selection {
  kind: Kind;
  id: Id;
}

export const LISTS = {
  member: 'members',
  joint: 'joints',
  element: 'elements',
  coupling: 'couplings',
  source: 'sources',
  load: 'loads',
  wanted: 'wanted',
} as const;

export type Stage = 'duty' | 'train' | 'layout' | 'motion' | 'loads' | 'release';
export const STAGES: readonly { stage: Stage; label: string }[] = [
  { stage: 'duty', label: 'Duty' },
  { stage: 'train', label: 'Train' },
  { stage: 'layout', label: 'Layout' },
  { stage: 'motion', label: 'Motion' },
  { stage: 'loads', label: 'Loads' },
  { stage: 'release', label: 'Release' },
];

/** How often the ledger follows a movement, ms: numbers faster than that cannot be read. */
const LEDGER_EVERY = 80;

/** The state of one open design: the document with its history, what was worked out of it, and the pose that the hand has found. */
@Injectable()
export class WorkbenchStore {
  private readonly api = inject(ApiService);
  readonly design = signal<Design>(emptyDesign('…'));
  readonly opened = signal(false);
  readonly failure = signal<string | undefined>(undefined);
  readonly history = signal<History<Design>>(emptyHistory());
  readonly selection = signal<Selection | undefined>(undefined);
  readonly stage = signal<Stage>('layout');
  readonly saver = signal<Saver | undefined>(undefined);
  readonly said = signal('');

  readonly worked = computed<Worked>(() => {
    const w = analyse(this.design());
    const keep = this.keptPosition;
    const c = w.compiled.sources[0]?.coordinate;
    if (keep !== undefined && c !== undefined) new Hand(w.mechanism).move(c, keep);
    return w;
  });
  readonly hand = computed(() => new Hand(this.worked().mechanism));
  readonly findings = computed<Finding[]>(() => this.worked().findings);

  /** True where bringing the train to its working distances and phases would help. */
  readonly canFit = computed(() =>
    this.findings().some((f) => ['tight-mesh', 'open-mesh', 'too-far-apart', 'too-close', 'phase-off'].includes(f.code)),
  );

  /** Fires once per movement; the layout listens without change detection. */
  readonly moved = new Subject<void>();
  /** Counts movements, for what is drawn through templates. */
  readonly pose = signal(0);
  readonly held = signal<Held | undefined>(undefined);
  readonly playing = signal<0 | 1 | -1>(0);
  private readonly ledgerTick = signal(0);
  private lastLedger = 0;
  private ledgerTimer?: ReturnType<typeof setTimeout>;
  private keptPosition: number | undefined;

  /** The ledger at the present pose, a few times a second while something moves. */
  readonly ledger = computed(() => {
    const w = this.worked();
    this.ledgerTick();
    return untracked(() => ledger(w.mechanism, w.forces));
  });

  /** The source that the deck turns. */
  readonly source = computed(() => this.worked().compiled.sources[0]);
  readonly position = computed(() => {
    this.pose();
    const w = this.worked();
    const c = w.compiled.sources[0]?.coordinate;
    return c === undefined ? 0 : w.mechanism.q[c] / w.mechanism.scale[c];
  });

  open(id: string): void {
    this.opened.set(false);
    this.failure.set(undefined);
    this.api.read(id).subscribe({
      next: (stored) => {
        const draft = drafts.read(id);
        const saver = new Saver(this.api, id, stored.revision);
        this.saver.set(saver);
        this.design.set(draft?.design ?? stored.design);
        if (draft) saver.resume(draft.design, draft.base, draft.save);
        this.opened.set(true);
      },
      error: (e: Error & { status?: number }) => {
        const draft = drafts.read(id);
        // Without the server, work that is kept here can still be gone on with.
        if (draft && e.status !== 404) {
          const saver = new Saver(this.api, id, draft.base);
          this.saver.set(saver);
          this.design.set(draft.design);
          saver.resume(draft.design, draft.base, draft.save);
          this.opened.set(true);
        } else this.failure.set(e.message);
      },
    });
  }

  close(): void {
    this.playing.set(0);
    this.saver()?.close();
  }

  /** Applies an edit under a name; what does not pass the schema never reaches the design. Gives the problem, or undefined. */
  edit(name: string, change: (d: Design) => Design, merge = false): string | undefined {
    const before = this.design();
    const after = change(before);
    if (after === before) return undefined;
    const read = readDesign(after);
    if (read.problems) return read.problems[0].message;
    this.remember();
    this.history.update((h) => withStep(h, { name, before, after }, merge));
    this.put(after);
    return undefined;
  }

  /** Changes one item of the design. */
  editItem(sel: Selection, name: string, change: (item: Record<string, unknown>) => Record<string, unknown>): string | undefined {
    const key = LISTS[sel.kind];
    return this.edit(name, (d) => ({
      ...d,
      [key]: (d[key] as { id: Id }[]).map((x) => (x.id === sel.id ? change(x as unknown as Record<string, unknown>) : x)),
    }));
  }

  /** Takes an item out of the design. */
  remove(kind: Kind, id: Id, name: string): void {
    const key = LISTS[kind];
    this.edit(`Delete ${name}`, (d) => ({ ...d, [key]: (d[key] as { id: Id }[]).filter((x) => x.id !== id) }));
    if (this.selection()?.id === id) this.selection.set(undefined);
  }

  undo(): void {
    this.travel(undo(this.history()), 'Undone');
  }
  redo(): void {
    this.travel(redo(this.history()), 'Done again');
  }
  private travel(r: ReturnType<typeof undo<Design>>, word: string): void {
    if (!r) return;
    this.remember();
    this.history.set(r.history);
    this.put(r.state);
    this.said.set(`${word}: ${r.name}`);
  }

  /** Brings the train to its working distances and teeth into spaces, because the person asked for it. */
  fit(): void {
    this.edit('Fit the train', (d) => settle(d).design);
    this.said.set('Working distances and phases are set');
  }

  settleConflict(choice: 'mine' | 'theirs'): void {
    const s = this.saver();
    if (!s) return;
    this.design.set(s.settle(choice, this.design()));
    this.history.set(emptyHistory());
  }

  item(sel: Selection | undefined): Record<string, unknown> | undefined {
    if (!sel) return undefined;
    return (this.design()[LISTS[sel.kind]] as { id: Id }[]).find((x) => x.id === sel.id) as Record<string, unknown> | undefined;
  }

  /** Any id to what it is. */
  find(id: Id): Selection | undefined {
    const d = this.design();
    for (const kind of Object.keys(LISTS) as Kind[]) if ((d[LISTS[kind]] as { id: Id }[]).some((x) => x.id === id)) return { kind, id };
    return undefined;
  }

  select(kind: Kind, id: Id): void {
    this.selection.set({ kind, id });
  }

  /** Moves a coordinate by hand (rad or m); what holds it is said. */
  lead(coordinate: number, value: number): void {
    const r = this.hand().move(coordinate, value);
    this.held.set(r.held);
    this.changed();
  }

  /** Leads the deck's source to a position in turns or mm. */
  turnTo(position: number): void {
    const s = this.source();
    if (s) this.lead(s.coordinate, position * this.worked().mechanism.scale[s.coordinate]);
  }
  turnBy(step: number): void {
    this.turnTo(this.position() + step);
  }

  play(direction: 0 | 1 | -1): void {
    const was = this.playing();
    this.playing.set(direction);
    if (direction && !was) this.run();
  }

  /** Runs at the source's nominal speed on the page's clock until a stop or until told. */
  private run(): void {
    let last = performance.now();
    const frame = (now: number): void => {
      const d = this.playing();
      const s = this.source();
      if (!d || !s) return;
      const dt = Math.min(0.1, (now - last) / 1000);
      last = now;
      const m = this.worked().mechanism;
      this.lead(s.coordinate, m.q[s.coordinate] + d * dt * this.rate() * nominalRate(m, s.coordinate, m.sourceSpeed[0]));
      if (this.held() && !this.loop()) this.playing.set(0);
      else if (this.held()) this.playing.set(d > 0 ? -1 : 1);
      requestAnimationFrame(frame);
    };
    requestAnimationFrame((t) => {
      last = t;
      frame(t);
    });
  }
  readonly rate = signal(1);
  readonly loop = signal(false);

  private changed(): void {
    this.moved.next();
    this.pose.update((n) => n + 1);
    const now = performance.now();
    clearTimeout(this.ledgerTimer);
    if (now - this.lastLedger > LEDGER_EVERY) {
      this.lastLedger = now;
      this.ledgerTick.update((n) => n + 1);
    } else this.ledgerTimer = setTimeout(() => this.ledgerTick.update((n) => n + 1), LEDGER_EVERY);
  }

  private remember(): void {
    const w = this.worked();
    const c = w.compiled.sources[0]?.coordinate;
    this.keptPosition = c === undefined ? undefined : w.mechanism.q[c];
  }

  private put(design: Design): void {
    this.design.set(design);
    this.held.set(undefined);
    this.saver()?.take(design);
    this.pose.update((n) => n + 1);
  }
}
