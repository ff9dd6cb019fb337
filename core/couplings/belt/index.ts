import { flagField, numberField, refsField } from '../../fields/fields';
import type { Coupling } from '../../fields/types';
import { finding } from '../../findings/index';
import { EFFICIENCY_FIELD, noCarrier } from '../common';
import type { CouplingContext, CouplingKind } from '../protocol';
import { wheelFindings, wheelsOf } from './findings';
import { bandGeometry } from './geometry';
import { bandModel } from './law';

export { beltPath } from './band-path';
export { tensionLimit } from './law';

/** A belt or chain over any number of wheels in one plane. */
function model(c: Coupling, ctx: CouplingContext, chain: boolean): ReturnType<CouplingKind['model']> {
  const found = wheelsOf(c, ctx, chain);
  if (found.findings) return { findings: found.findings };
  const { wheels } = found;
  const ids = [c.id, ...wheels.map((w) => w.element.id)];
  const findings = wheelFindings(c, wheels, chain);
  const geometry = bandGeometry(c, wheels);
  const { impossible } = geometry.path;
  if (impossible !== undefined) {
    return { findings: [...findings, finding('wheels-overlap', ids, { name: c.name ?? c.id, element: wheels[impossible].element.name })] };
  }
  const made = bandModel(c, ctx, wheels, geometry, chain);
  if (Array.isArray(made)) return { findings: [...findings, noCarrier(c, ctx, ids, made[0], made[1])] };
  return { findings, model: made };
}

const COMMON = [
  refsField('wheels', 'Wheels, in the order of the run', 'element', { required: true, least: 2 }),
  refsField('outside', 'Wheels that bear from outside', 'element'),
];
const PRETENSION = numberField('pretension', 'Pre-tension of a strand', { unit: 'N', symbol: 'F0', initial: 0, min: 0, max: 1e7 });

export const belt: CouplingKind = {
  type: 'belt',
  label: 'Belt',
  fields: [
    ...COMMON,
    flagField('crossed', 'Crossed', { initial: false }),
    numberField('creep', 'Creep', { initial: 0, min: 0, max: 0.2, help: 'Part by which a friction belt falls behind; none for toothed belts.' }),
    numberField('friction', 'Friction on the wheels', { symbol: 'μ', initial: 0.3, min: 0, max: 2 }),
    PRETENSION,
    { ...EFFICIENCY_FIELD, initial: 0.96 },
  ],
  model: (c, ctx) => model(c, ctx, false),
};

export const chain: CouplingKind = {
  type: 'chain',
  label: 'Chain',
  fields: [...COMMON, PRETENSION, { ...EFFICIENCY_FIELD, initial: 0.97 }],
  model: (c, ctx) => model(c, ctx, true),
};
