import type { Ledger, Ready, Snapshot } from '@unirota/core';
import type { Id } from '@unirota/core/document';
import type { Derived } from '@unirota/core/elements';
import { type Units, motionUnit } from '@unirota/core/units';

/** What derived values are read from: the train as it stands, its ledger there, and what the worker said of the design. */
export interface Standing {
  readonly worked: Ready;
  readonly ledger: Ledger;
  readonly snapshot: Snapshot | undefined;
  readonly units: Units;
}

/** A ratio as it is exactly; as a decimal where the design shows its lengths in another unit. */
function ratioLine(key: string, label: string, exact: string, decimal: number, turns: string, units: Units): Derived {
  const unit = turns.replaceAll('turn', 'rev');
  return { key, label, value: units.of(unit) === unit ? exact.replace('-', '−') : decimal, unit };
}

/** Forces, loss and what the coupling's own model derives. */
export function couplingValues(id: Id, { worked, ledger }: Standing): Derived[] {
  const c = worked.compiled.couplings.find((x) => x.coupling.id === id);
  const f = ledger.couplings.find((x) => x.coupling === id);
  const out = [...(c?.model.derived ?? [])];
  if (f) {
    // The two formulas are of spur and helical teeth; bevel, crossed and worm teeth have longer ones.
    const teeth = c?.coupling.type === 'gear-pair' || c?.coupling.type === 'sector-mesh' || c?.coupling.type === 'rack-mesh';
    if (f.tangential) {
      out.push(
        c?.model.law === 'curve'
          ? { key: 'fn', label: $localize`Contact force`, symbol: 'Fn', value: f.tangential, unit: 'N' }
          : { key: 'ft', label: $localize`Tangential force`, symbol: 'Ft', value: f.tangential, unit: 'N' },
      );
    }
    if (f.radial) {
      out.push({
        key: 'fr',
        label: $localize`Radial force`,
        symbol: 'Fr',
        value: f.radial,
        unit: 'N',
        formula: teeth ? $localize`Fr = Ft·tan αt` : undefined,
      });
    }
    if (f.axial) {
      out.push({
        key: 'fa',
        label: $localize`Axial force`,
        symbol: 'Fa',
        value: f.axial,
        unit: 'N',
        formula: teeth ? $localize`Fa = Ft·tan β` : undefined,
      });
    }
    const at = worked.compiled.couplings.findIndex((x) => x.coupling.id === id);
    worked.forces.state.couplings[at]?.strands.forEach((v, k) =>
      out.push({ key: `strand${k}`, label: $localize`Strand ${k + 1}`, symbol: `F${k + 1}`, value: v, unit: 'N' }),
    );
    out.push({ key: 'loss', label: $localize`Power lost`, symbol: 'Pv', value: f.loss, unit: 'W' });
  }
  return out;
}

/** Where a joint stands, and its ratios to the sources. */
export function jointValues(joint: Id, { worked, snapshot, units }: Standing): Derived[] {
  const out: Derived[] = [];
  const first = worked.compiled.structure.firstOf.get(joint);
  if (first !== undefined && worked.compiled.structure.coordinates[first]?.joint.id === joint) {
    const c = worked.compiled.structure.coordinates[first];
    const v = worked.pose.q[first] / worked.pose.kinematics.scale[first];
    out.push({ key: 'q', label: $localize`Position`, value: c.unit.slides ? v : v * 360, unit: c.unit.place });
    if (!c.unit.slides) out.push({ key: 'turns', label: $localize`Turns`, value: v, unit: 'rev' });
    for (const r of snapshot?.ratios ?? []) {
      if (r.to === joint) {
        out.push(
          ratioLine(`r-${r.from}`, $localize`Ratio to the source`, r.exact, r.decimal, r.unit, units),
          ratioLine(`i-${r.from}`, $localize`The other way round`, r.inverse, r.inverseDecimal, r.unit.split('/').reverse().join('/'), units),
        );
      }
    }
  }
  return out;
}

/** Speed, load and power of a member, and its mass. */
export function memberValues(id: Id, { ledger, snapshot }: Standing): Derived[] {
  const out: Derived[] = [];
  const l = ledger.lines.find((x) => x.member === id);
  const mass = snapshot?.masses.get(id);
  if (l?.travel) {
    out.push(
      { key: 'v', label: $localize`Speed of travel`, value: l.travel.speed, unit: 'mm/s' },
      { key: 'f', label: $localize`Force through it`, value: l.travel.load, unit: 'N' },
      { key: 'p', label: $localize`Power through it`, value: l.travel.power, unit: 'W' },
    );
  } else if (l) {
    out.push(
      { key: 'n', label: $localize`Relative speed`, value: l.speed, unit: motionUnit(l.motion).speed },
      ...(Math.abs(l.space - l.speed) > 1e-9 * Math.abs(l.speed)
        ? [{ key: 'ns', label: $localize`Absolute speed`, value: l.space, unit: motionUnit(l.motion).speed }]
        : []),
      {
        key: 't',
        label: l.motion === 'slide' ? $localize`Force through it` : $localize`Torque through it`,
        value: l.load,
        unit: motionUnit(l.motion).effort,
      },
      { key: 'p', label: $localize`Power through it`, value: l.power, unit: 'W' },
    );
  }
  if (mass) out.push({ key: 'm', label: $localize`Mass`, symbol: 'm', value: mass.mass, unit: 'kg', formula: 'Σ volume · density of its elements' });
  return out;
}

/** What a source has to give. */
export function sourceValues(id: Id, slide: boolean, { ledger }: Standing): Derived[] {
  const r = ledger.sources.find((x) => x.source === id);
  return r
    ? [
        { key: 'l', label: slide ? $localize`Force needed` : $localize`Torque needed`, value: r.load, unit: motionUnit(slide).effort },
        { key: 'p', label: $localize`Power`, value: r.power, unit: 'W' },
      ]
    : [];
}

/** What a wanted output comes to. */
export function wantedValues(id: Id, { ledger }: Standing): Derived[] {
  const r = ledger.wanted.find((x) => x.wanted === id);
  if (!r) return [];
  return r.value === undefined
    ? []
    : [
        { key: 'v', label: $localize`Actual`, value: r.value, unit: r.unit },
        { key: 'o', label: $localize`Off by`, value: r.off ?? 0, unit: r.unit },
      ];
}
