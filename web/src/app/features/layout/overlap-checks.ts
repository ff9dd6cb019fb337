import { Injectable, inject, signal } from '@angular/core';
import type { Interference, Overlap } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import type { Overlaps } from '../../engine/checks.worker';
import { LongWork } from '../../engine/long-work';
import { DesignService } from '../../state/design.service';
import { MotionService } from '../../state/motion.service';
import { RunService } from '../../state/run.service';
import { UnitsService } from '../../state/units.service';

/** Checks of overlap and phases in a worker, with what they found in words. */
@Injectable()
export class OverlapChecks {
  private readonly doc = inject(DesignService);
  private readonly motion = inject(MotionService);
  private readonly runs = inject(RunService);
  private readonly units = inject(UnitsService).now;
  readonly work = inject(LongWork);
  readonly said = signal('');

  private name(list: 'elements' | 'couplings', id: Id): string {
    return (this.doc.design()[list] as readonly { id: Id; name?: string }[]).find((x) => x.id === id)?.name ?? id;
  }

  /** Overlap of true profiles at this pose, in the worker; shown in place with its area. */
  async here(mark: (teeth: readonly Overlap[], bodies: readonly Interference[]) => void): Promise<void> {
    const m = this.motion.worked().pose;
    const found = await this.work.run($localize`Overlap at this pose`, (api) => api.here(this.doc.design(), Float64Array.from(m.u)));
    if (!found) return;
    mark(found.teeth, found.bodies);
    this.said.set(this.overlapText(found) || $localize`Nothing overlaps at this position.`);
  }
  async way(): Promise<void> {
    const found = await this.work.run($localize`Overlap from stop to stop`, (api, report) => api.way(this.doc.design(), 40, report));
    if (!found) return this.said.set($localize`The check was stopped.`);
    this.said.set(
      found.length
        ? `At ${found.length} of 40 positions, first at ${show(found[0].at, 4)}: ${this.overlapText(found[0])}`
        : $localize`Nothing overlaps at 40 positions from stop to stop.`,
    );
  }
  /** Members that overlap at any instant of the run that is shown. */
  async run(): Promise<void> {
    const shown = this.runs.shown();
    if (!shown) return;
    const run = shown.result;
    // Of the design as it was when the run was computed.
    const found = await this.work.run($localize`Overlap over the run`, (api, report) =>
      api.over(shown.compiled.design, run.time.slice(0, run.frames), run.q.slice(0, run.frames * run.coordinates), report),
    );
    if (!found) return this.said.set($localize`The check was stopped.`);
    const worst = found.reduce<(typeof found)[number] | undefined>((w, x) => (!w || x.bodies[0].depth > w.bodies[0].depth ? x : w), undefined);
    this.said.set(
      worst
        ? `At ${found.length} of ${run.frames} instants, first at ${show(found[0].at, 4)} s, deepest at ${show(worst.at, 4)} s: ${this.overlapText(worst)}`
        : $localize`No members overlap at the ${run.frames} instants of the run.`,
    );
  }
  /** The worst of what overlaps, in words. */
  private overlapText({ teeth, bodies }: Overlaps): string {
    const of = (id: Id): string => this.name('elements', id);
    const all = [
      ...teeth.map((o) => $localize`${this.name('couplings', o.coupling)}:coupling:: profiles overlap by ${this.units().text(o.area, 'mm²', 3)}`),
      ...bodies.map((o) => $localize`${of(o.elements[0])} and ${of(o.elements[1])}:second:: ${this.units().text(o.depth, 'mm', 3)} deep`),
    ];
    return all.slice(0, 4).join('; ') + (all.length > 4 ? `; and ${all.length - 4} more` : '');
  }
  /** Teeth into spaces in all meshes, in the worker, with the angles said. */
  async phases(): Promise<void> {
    const r = await this.work.run($localize`Phases of all meshes`, (api) => api.phases(this.doc.design()));
    if (!r) return;
    if (r.steps.length) this.doc.edit($localize`Put teeth into spaces`, () => r.design);
    const said =
      [
        ...r.steps.map(
          (s) =>
            $localize`${this.name('elements', s.element)} turned by ${s.unit === 'deg' ? `${show(s.add, 6)}°` : this.units().text(s.add, 'mm', 6)}`,
        ),
        ...r.findings.map((f) => this.units().sentence(f.message)),
      ].join('; ') || $localize`All teeth mesh already.`;
    // After the edit has cleared what was said of the state before.
    setTimeout(() => this.said.set(said));
  }
}
