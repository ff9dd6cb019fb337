import { finding } from '../../findings/index';
import { noCarrier } from '../common';
import type { CouplingContext, CouplingKind } from '../protocol';
import { BELT_FIELDS, type Belt, CHAIN_FIELDS, type Chain, type Run } from './fields';
import { countFindings, wheelFindings, wheelsOf } from './findings';
import { bandGeometry } from './geometry';
import { bandModel } from './law';

export type { Belt, Chain } from './fields';
export { beltPath } from './band-path';
export { tensionLimit } from './law';

/** A belt or chain over any number of wheels in one plane. */
function model(c: Run, ctx: CouplingContext, chain: boolean): ReturnType<CouplingKind['model']> {
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
  if (!geometry.lies) findings.push(finding('belt-cannot-lie', ids, { name: c.name ?? c.id }));
  else findings.push(...countFindings(c, wheels, geometry, chain));
  const made = bandModel(c, ctx, wheels, geometry, chain);
  if (Array.isArray(made)) return { findings: [...findings, noCarrier(c, ctx, ids, made[0], made[1])] };
  return { findings, model: made };
}

export const belt: CouplingKind<Belt> = {
  type: 'belt',
  label: 'Belt',
  fields: BELT_FIELDS,
  takes: { wheels: 'pulley', sprockets: false },
  model: (c, ctx) => model(c, ctx, false),
};

export const chain: CouplingKind<Chain> = {
  type: 'chain',
  label: 'Chain',
  fields: CHAIN_FIELDS,
  takes: { wheels: 'pulley', sprockets: true },
  model: (c, ctx) => model(c, ctx, true),
};
