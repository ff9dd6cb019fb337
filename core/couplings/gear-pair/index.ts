import { type Gear, num } from '../../elements/index';
import type { Stated } from '../../fields/fields';
import type { Coupling, Finding } from '../../fields/types';
import { finding } from '../../findings/index';
import { norm } from '../../math/index';
import {
  DISTANCE_TOLERANCE_FIELD,
  EFFICIENCY_FIELD,
  FACE_LOAD_FIELD,
  TRANSMISSION_ERROR_FIELD,
  MESH_LOAD_FIELD,
  type Placed,
  acrossAxis,
  efficiencyOf,
  noCarrier,
  pairFields,
  pairOf,
  turnsOf,
} from '../common';
import type { CouplingContext, CouplingKind, ProportionalModel } from '../protocol';
import { backlashLimits } from './backlash';
import { cannotPair, fitFindings, limitFindings, teethDiffer } from './findings';
import { type PairGeometry, pairGeometry } from './geometry';
import { pairModel } from './law';

export type { PairGeometry } from './geometry';

/** Two cylindrical wheels that mesh: where they meet and what that ties. */
export interface Mesh<A extends Gear = Gear, B extends Gear = Gear> {
  a: Placed<A>;
  b: Placed<B>;
  geometry: PairGeometry;
  model: ProportionalModel;
}

/** The mesh of two elements of the given types, or why there is none; findings beside a mesh are what is wrong with it. */
export function meshOf<A extends Gear, B extends Gear>(
  c: Coupling & { efficiency?: number; distanceTolerance?: number },
  ctx: CouplingContext,
  types: readonly [readonly string[], readonly string[]],
): { mesh?: Mesh<A, B>; findings: Finding[] } {
  const pair = pairOf<A, B>(c, ctx, types);
  if (pair.findings) return { findings: pair.findings };
  const { a, b, ids } = pair;
  const name = c.name ?? c.id;
  const cannot = cannotPair(name, ids, a, b);
  if (cannot) return { findings: [cannot] };
  const findings = teethDiffer(name, ids, a, b);
  if (norm(acrossAxis(a.frame, b.frame.o)) < 1e-6) return { findings: [...findings, finding('axes-coincide', ids, { name })] };
  const turns = turnsOf(ctx, a, b);
  if (!turns) return { findings: [...findings, noCarrier(c, ctx, ids, a.member, b.member)] };
  const geometry = pairGeometry(a, b);
  if (!geometry) return { findings: [...findings, finding('equal-internal', ids, { name })] };
  const limits = findings.length ? undefined : backlashLimits(geometry, num(c.distanceTolerance));
  const model = pairModel(ctx, a, b, turns, geometry, efficiencyOf(c), limits);
  // Teeth that do not go together have no distance that would suit them.
  return {
    mesh: { a, b, geometry, model },
    findings: findings.length ? findings : [...fitFindings(name, ids, geometry), ...limitFindings(name, ids, limits?.least.backlash)],
  };
}

const FIELDS = [
  ...pairFields('First gear', 'Second gear'),
  DISTANCE_TOLERANCE_FIELD,
  EFFICIENCY_FIELD,
  FACE_LOAD_FIELD,
  MESH_LOAD_FIELD,
  TRANSMISSION_ERROR_FIELD,
];
/** What is stated of one, from its fields. */
export type GearPair = Coupling & Stated<typeof FIELDS>;

const TAKES = [['gear'], ['gear']] as const;

/** Two cylindrical gears on parallel axes, external or one of them internal. */
export const gearPair: CouplingKind<GearPair> = {
  type: 'gear-pair',
  label: 'Gear pair',
  fields: FIELDS,
  takes: TAKES,
  axes: 'parallel',
  model(c, ctx) {
    const { mesh, findings } = meshOf<Gear, Gear>(c, ctx, TAKES);
    return { model: mesh?.model, findings };
  },
};
