import { Injectable, computed, inject, linkedSignal, signal } from '@angular/core';
import { type Compiled, type Forces, type RunForces, type Wrench, forcesAtTime, withSheet } from '@unirota/core';
import { FRAME, type Id, type KeptSheet } from '@unirota/core/document';
import { type Vec3, norm, vscale } from '@unirota/core/math';
import { show } from '@unirota/core/units';
import { PASSING, RunService, type ShownRun } from './run.service';
import { DesignService } from './design.service';
import { SelectionService } from './selection.service';
import { MotionService } from './motion.service';
import { CommandsService } from './commands.service';

/** Forces at the instant that is looked at, and what they were computed from. */
export interface LoadsNow {
  readonly compiled: Compiled;
  readonly forces: Forces;
  /** Inertia is counted: at an instant of a run. */
  readonly inertia: boolean;
}
/** What the layout shows as arrows: nothing, what acts on the chosen member, or what every joint and coupling passes on. */
export type ArrowsOn = 'none' | 'member' | 'all';

/** A force and a moment at a point in the world: mm, N, N·m. */
export interface ShownForce {
  readonly point: Vec3;
  readonly force: Vec3;
  readonly moment: Vec3;
}

const NONE: Vec3 = [0, 0, 0];
/** Beside the largest, smaller ones are not shown. */
const SEEN = 1e-4;

/** 1, 2 or 5 times a power of ten that is at least so much. */
function roundUp(x: number): number {
  if (!(x > 0)) return 0;
  const p = 10 ** Math.floor(Math.log10(x) + 1e-12);
  return p * ([1, 2, 5, 10].find((k) => k * p >= x * (1 - 1e-12)) ?? 10);
}

/**
 * Forces and moments for Loads and for the arrows of the layout: at the pose
 * under the hand in steady motion, or at the instant of the run with inertia.
 */
@Injectable()
export class LoadsService {
  private readonly doc = inject(DesignService);
  private readonly chosen = inject(SelectionService);
  private readonly motion = inject(MotionService);
  private readonly commands = inject(CommandsService);
  private readonly runs = inject(RunService);
  readonly arrows = signal<ArrowsOn>('none');
  readonly numbers = signal(false);
  private had: { run: ShownRun; at: RunForces } | undefined;

  /** The run whose instant is looked at; none while the train is under the hand. */
  readonly run = computed(() => (this.runs.at() === undefined || this.runs.stale() ? undefined : this.runs.shown()));
  // A new object each time: the forces behind it are the same, with other figures in them.
  readonly now = computed<LoadsNow>(
    () => {
      const run = this.run();
      if (run) {
        const at = forcesAtTime(run.compiled, run.result, this.runs.reading(), this.had?.run === run ? this.had.at : undefined);
        this.had = { run, at };
        return { compiled: run.compiled, forces: at.forces, inertia: true };
      }
      this.motion.ledger();
      const w = this.motion.worked();
      return { compiled: w.compiled, forces: w.forces, inertia: false };
    },
    { equal: () => false },
  );
  readonly when = computed(() => {
    const run = this.run();
    return run ? `at ${show(this.runs.reading(), 4)} s of ${run.kept.name || 'the run'}, inertia counted` : $localize`at this pose, in steady motion`;
  });

  /** The kept sheet that was opened last: the one that can be renamed. */
  readonly openSheet = signal<Id | undefined>(undefined);
  readonly sheets = computed(() => this.doc.design().sheets ?? []);

  /** Keeps the load sheet of a member as it is seen; the run that it is of is kept with it. Gives what was in the way. */
  keepSheet(member: Id): string | undefined {
    const who = this.doc.design().members.find((m) => m.id === member)?.name ?? '';
    const run = this.run();
    const time = this.runs.reading();
    if (run?.key === PASSING) {
      const trouble = this.runs.keep($localize`For the loads of ${who}`);
      if (trouble) return trouble;
    }
    const of = run
      ? { run: this.runs.open(), time, name: `${who} at ${show(time, 4)} s` }
      : { case: this.doc.loadCase(), starts: this.runs.startsHere(), name: `${who} at this pose` };
    return this.doc.edit($localize`Save load sheet of ${who}`, (d) => {
      const made = withSheet(d, { member, ...of });
      this.openSheet.set(made.id);
      return made.design;
    });
  }
  /** Goes to where a kept sheet is of, with its member selected. */
  async goToSheet({ id, member, run, time, case: c, starts }: KeptSheet): Promise<void> {
    this.chosen.select('member', member);
    this.openSheet.set(id);
    if (run !== undefined) return this.runs.openAt(run, time ?? 0);
    if (this.runs.at() !== undefined) this.runs.leave();
    this.doc.loadCase.set(c);
    this.motion.standAt(starts);
  }

  /** Goes to an instant of the run that is shown, s. */
  goTo(time: number): void {
    this.runs.go(time);
  }

  /** The member whose forces are shown: the chosen one, or that of the chosen element or joint. */
  readonly member = computed<Id | undefined>(() => this.commands.memberAt());

  readonly shown = computed<readonly ShownForce[]>(() => {
    const on = this.arrows();
    if (on === 'none') return [];
    const { compiled, forces, inertia } = this.now();
    const { structure, design } = compiled;
    const all = forces.wrenches(inertia);
    let chosen: Wrench[];
    if (on === 'member') {
      const body = structure.bodyOf.get(this.member() ?? FRAME);
      chosen = body ? all.filter((w) => w.body === body) : [];
    } else {
      // Each once: of a joint what the carried member feels, of a coupling what its driven side does.
      const child = new Map(design.joints.map((j) => [j.id, structure.bodyOf.get(j.child) ?? 0]));
      const once = new Map<string, Wrench>();
      for (const w of all) {
        if (w.kind === 'joint' && child.get(w.id) === w.body) once.set(`joint ${w.id}`, w);
        else if (w.kind === 'coupling' || w.kind === 'load') once.set(`${w.kind} ${w.id} ${Array.from(w.point, (x) => x.toFixed(4)).join()}`, w);
      }
      chosen = [...once.values()];
    }
    const [f, m] = [Math.max(0, ...chosen.map((w) => norm(w.force))), Math.max(0, ...chosen.map((w) => norm(w.moment)))];
    return chosen.map((w) => ({
      point: vscale(w.point, 1e3),
      force: norm(w.force) > SEEN * f ? w.force : NONE,
      moment: norm(w.moment) > SEEN * m ? w.moment : NONE,
    }));
  });

  /**
   * What the longest arrow and the largest bow stand for, N and N·m:
   * held while it fits, so that growing forces are seen to grow.
   */
  readonly scale = linkedSignal<{ of: string; force: number; moment: number }, { of: string; force: number; moment: number }>({
    source: () => {
      const list = this.shown();
      return {
        of: `${this.arrows()} ${this.member()}`,
        force: Math.max(0, ...list.map((x) => norm(x.force))),
        moment: Math.max(0, ...list.map((x) => norm(x.moment))),
      };
    },
    computation: (now, before) => {
      const held = before?.value.of === now.of ? before.value : { force: 0, moment: 0 };
      const fits = (x: number, h: number): number => (x > h || x < h / 8 ? roundUp(x) : h);
      return { of: now.of, force: fits(now.force, held.force), moment: fits(now.moment, held.moment) };
    },
  });
}
