import { DestroyRef, Injectable, computed, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Subject } from 'rxjs';
import {
  Hand,
  Held,
  type LoadEffect,
  ledger,
  loadEffects,
  endSeen,
  nominalRate,
  senseOf,
  placeAt,
  ready,
  type MappedStop,
  type Ready,
  slidesAt,
} from '@unirota/core';
import type { Id, KeptSheet } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { UnitsService } from './units.service';
import { DesignService } from './design.service';
import { HeldContents } from './held-contents.service';
import { Pace } from './pace';

/**
 * The train as it moves: the pose that the hand, the clock or a run
 * gives it, and the ledger there. One observable says that it has moved.
 */
@Injectable()
export class MotionService {
  private readonly doc = inject(DesignService);
  private readonly contents = inject(HeldContents);
  private readonly units = inject(UnitsService).now;
  /** Which source the hand holds. */
  readonly driver = signal(0);
  /** A member is moved alone, or a freedom shown: nothing of it stays. */
  readonly looking = signal(false);
  /** What moves the train, with the coordinates of its home; it stands there, or where the hand had it before the last edit. */
  readonly worked = computed<Ready & { home: Float64Array }>(() => {
    const d = this.doc.mechanism();
    // Members that stop each other do so by their surfaces, which may come later.
    if (d.members.some((m) => m.stopsAt?.length)) this.contents.arrived();
    const w = ready(d);
    const home = Float64Array.from(w.pose.q);
    const keep = this.kept;
    for (const s of w.compiled.sources) {
      const at = keep?.get(s.source.id);
      if (at !== undefined) new Hand(w.pose).move(s.coordinate, at);
    }
    return { ...w, home };
  });
  readonly hand = computed(() => {
    const w = this.worked();
    const hand = new Hand(w.pose);
    const driver = this.source()?.coordinate;
    hand.hold(w.compiled.sources.map((s) => s.coordinate).filter((c) => c !== driver));
    return hand;
  });
  /** Fires once per movement; the layout listens without change detection. */
  readonly moved = new Subject<void>();
  /** Counts movements, for what is drawn through templates. */
  readonly pose = signal(0);
  /** Counts them as far as numbers can be read: a few times a second. */
  readonly reading = signal(0);
  private readonly figures = new Pace(() => this.reading.update((n) => n + 1));
  readonly held = signal<Held | undefined>(undefined);
  readonly playing = signal<0 | 1 | -1>(0);
  private readonly ledgerTick = signal(0);
  private readonly ledgerPace = new Pace(() => this.ledgerTick.update((n) => n + 1));
  private kept: Map<Id, number> | undefined;

  /** The ledger at the present pose, a few times a second while something moves. */
  readonly ledger = computed(() => {
    const w = this.worked();
    this.ledgerTick();
    return untracked(() => ledger(w.pose, w.forces));
  });

  /** What each load does at the present pose in steady motion. */
  readonly loadEffects = computed<ReadonlyMap<Id, LoadEffect>>(() => {
    this.ledger();
    return untracked(() => loadEffects(this.worked().forces));
  });
  /** Which way a coordinate moves in steady motion: −1 where it runs back. */
  senseOf(coordinate: string): 1 | -1 {
    this.ledger();
    return senseOf(this.worked().forces, coordinate);
  }

  /** The source that the deck turns. */
  readonly source = computed(() => {
    const all = this.worked().compiled.sources;
    return all[this.driver()] ?? all[0];
  });
  /** The way of the deck's source, as it is to be worked out. */
  readonly way = computed(() => ({ design: this.doc.mechanism(), source: this.driverSlot() }));
  /** Does the deck's source slide, so that its way is in mm? */
  readonly sourceSlides = computed(() => {
    const s = this.source();
    return s !== undefined && slidesAt(this.worked().pose.kinematics, s.coordinate);
  });
  readonly position = computed(() => {
    this.pose();
    const w = this.worked();
    const c = this.source()?.coordinate;
    return c === undefined ? 0 : w.pose.q[c] / w.pose.kinematics.scale[c];
  });

  constructor() {
    inject(DestroyRef).onDestroy(() => {
      this.figures.end();
      this.ledgerPace.end();
    });
    this.doc.ended.pipe(takeUntilDestroyed()).subscribe(() => {
      this.play(0);
      this.kept = undefined;
    });
    this.doc.before.pipe(takeUntilDestroyed()).subscribe(() => this.remember());
    this.doc.changed.pipe(takeUntilDestroyed()).subscribe(() => {
      this.held.set(undefined);
      this.count();
    });
  }

  /** Moves along what is still free, to and fro for a moment, without touching the design. */
  showFreedom(vector: Float64Array): void {
    const m = this.worked().pose;
    this.play(0);
    this.looking.set(true);
    const u0 = Float64Array.from(m.u),
      latches = Float64Array.from(m.limit);
    const rates = new Float64Array(m.kinematics.count);
    m.spreadRates(vector, rates);
    let most = 0;
    for (let i = 0; i < m.kinematics.count; i++) most = Math.max(most, Math.abs(rates[i]) * (slidesAt(m.kinematics, i) ? 8 : 1));
    const size = 0.5 / (most || 1);
    const begin = performance.now();
    const u = new Float64Array(m.kinematics.freeCount);
    const frame = (now: number): void => {
      const t = (now - begin) / 1000;
      if (t > 3 || this.worked().pose !== m) {
        m.setFree(u0);
        m.limit.set(latches);
        this.looking.set(false);
        this.changed();
        return;
      }
      const a = size * Math.sin((2 * Math.PI * t) / 1.5);
      for (let i = 0; i < u.length; i++) u[i] = u0[i] + a * vector[i];
      m.setFree(u);
      if (!m.kinematics.linear) m.solve([], []);
      this.moved.next();
      requestAnimationFrame(frame);
    };
    requestAnimationFrame(frame);
  }

  /** Moves one coordinate alone for a look; `endLook` puts everything back. */
  look(coordinate: number, value: number): void {
    this.looking.set(true);
    this.hand().peek(coordinate, value);
    this.moved.next();
  }
  /** The train is shown where a run has it, not where the hand does. */
  private elsewhere = false;
  /** Fires when the hand takes the train from a run. */
  readonly taken = new Subject<void>();
  private takeBack(): void {
    if (!this.elsewhere) return;
    this.elsewhere = false;
    // The hand goes on from what is seen, where the train can stand there.
    const { pose } = this.worked();
    const q = Float64Array.from(pose.q);
    if (
      pose.solve(
        Array.from(q, (_, i) => i),
        q,
      ) !== 'ok'
    ) {
      this.hand().back();
    } else pose.latch();
    this.taken.next();
  }
  /** Shows the train with its coordinates as given (rad or m), for a look; undefined: as the hand has it. */
  showAt(q: Float64Array | undefined): void {
    const { pose } = this.worked();
    this.elsewhere = q !== undefined;
    if (q) {
      pose.q.set(q);
      pose.replace();
    }
    this.moved.next();
    this.count();
  }
  /** Counts a movement, for templates at once, for figures a few times a second. */
  private count(): void {
    this.pose.update((n) => n + 1);
    this.figures.touch();
  }
  endLook(): void {
    if (!this.looking()) return;
    this.hand().back();
    this.looking.set(false);
    this.changed();
  }

  /** Everything back where it stands in the document. */
  toReference(): void {
    this.play(0);
    this.takeBack();
    const { pose } = this.worked();
    pose.setFree(new Float64Array(pose.kinematics.freeCount));
    pose.latch();
    this.held.set(undefined);
    this.changed();
  }

  /** Puts the train where it was kept, deg or mm; says where it cannot stand there any more. */
  standAt(starts: KeptSheet['starts']): void {
    this.play(0);
    this.takeBack();
    const { pose } = this.worked();
    if (!placeAt(pose, starts)) this.doc.said.set($localize`The train cannot stand there any more: it is at home`);
    pose.latch();
    this.held.set(undefined);
    this.changed();
  }

  /** Moves a coordinate by hand (rad or m), from where the train is seen; what holds it is said. */
  lead(coordinate: number, value: number): void {
    this.takeBack();
    const r = this.hand().move(coordinate, value);
    this.held.set(r.held);
    this.changed();
  }

  /**
   * The end of a way in parts: whose it is, where it lies (top or
   * bottom of a slide that rises), and where the joint then stands.
   */
  endParts(end: Held | MappedStop): { name: string; seen?: 'top' | 'bottom'; at: string } {
    const d = this.doc.design();
    const list: readonly { id: Id; name?: string }[] = end.leaves || end.which === 'pawl' ? d.couplings : d.joints;
    const name = list.find((x) => x.id === end.joint)?.name ?? end.joint;
    const { structure } = this.worked().compiled;
    const c = structure.coordinates[structure.firstOf.get(end.joint) ?? -1];
    const at = end.own === undefined || !c ? '' : c.motion === 'slide' ? ` at ${this.units().text(end.own, 'mm')}` : ` at ${show(360 * end.own, 5)}°`;
    return { name, seen: c && end.which !== 'pawl' ? endSeen(c, end.which) : undefined, at };
  }
  /** The end of a way in a few words. */
  endText(end: Held | MappedStop): string {
    const { name, seen, at } = this.endParts(end);
    if (end.leaves) return `${name} ends`;
    if (end.dead) return `${end.dead === 'dead-point' ? 'dead centre' : 'out of reach'}: ${name}${at}`;
    return end.which === 'pawl' ? name : `${name}${seen ? ` ${seen}` : at}`;
  }

  /** Leads the deck's source to a position in turns or mm. */
  turnTo(position: number): void {
    const s = this.source();
    if (s) this.lead(s.coordinate, position * this.worked().pose.kinematics.scale[s.coordinate]);
  }
  turnBy(step: number): void {
    this.turnTo(this.position() + step);
  }

  play(direction: 0 | 1 | -1): void {
    this.playing.set(direction);
    if (!direction) {
      cancelAnimationFrame(this.playback);
      this.playback = 0;
    } else if (!this.playback) this.run();
  }
  /** The frame that is asked for while something plays: there is one loop at a time. */
  private playback = 0;

  /** Runs at the source's nominal speed on the page's clock until a stop or until told. */
  private run(): void {
    let last = performance.now();
    const frame = (now: number): void => {
      const d = this.playing();
      const s = this.source();
      if (!d || !s) return void (this.playback = 0);
      const dt = Math.min(0.1, (now - last) / 1000);
      last = now;
      const m = this.worked().pose;
      this.lead(s.coordinate, m.q[s.coordinate] + d * dt * this.rate() * nominalRate(m, s.coordinate, m.sourceSpeed[this.driverSlot()]));
      if (this.held() && !this.loop()) this.playing.set(0);
      else if (this.held()) this.playing.set(d > 0 ? -1 : 1);
      this.playback = this.playing() ? requestAnimationFrame(frame) : 0;
    };
    this.playback = requestAnimationFrame((t) => {
      last = t;
      frame(t);
    });
  }
  /** Which of the compiled sources the hand holds. */
  readonly driverSlot = computed(() => (this.worked().compiled.sources[this.driver()] ? this.driver() : 0));
  readonly rate = signal(1);
  readonly loop = signal(false);

  private changed(): void {
    this.moved.next();
    this.count();
    this.ledgerPace.touch();
  }

  private remember(): void {
    const w = this.worked();
    this.kept = new Map(w.compiled.sources.map((s) => [s.source.id, w.pose.q[s.coordinate]]));
  }
}
