import type { Stated } from '../../fields/fields';
import { type Gear, type Sector, num, sectorArc } from '../../elements/index';
import type { Coupling } from '../../fields/types';
import { dot } from '../../math/index';
import { EFFICIENCY_FIELD, type Placed, pairFields } from '../common';
import { type PairGeometry, meshOf } from '../gear-pair/index';
import type { CouplingKind, Engagement, Port } from '../protocol';

/**
 * The turns of the sector over which the pitch point lies among its teeth, half a pitch beyond the first and the last; from the reference position, turned by
 * whole turns so that this lies within where it can.
 */
function engagement(sector: Placed<Sector>, g: PairGeometry, motion: Port): Engagement[] {
  const { first, last, pitch } = sectorArc(sector.element);
  if (num(sector.element.arcTeeth, 2) >= g.ga.teeth) return [];
  const { frame } = sector;
  const pitchPoint = Math.atan2(dot(g.radial, frame.y), dot(g.radial, frame.x));
  const from = (pitchPoint - last - pitch / 2) / (2 * Math.PI),
    to = (pitchPoint - first + pitch / 2) / (2 * Math.PI);
  const back = Math.ceil(from) <= to ? Math.ceil(from) : Math.round((from + to) / 2);
  return [{ motion, from: from - back, to: to - back, what: `the sector’s arc of ${num(sector.element.arcTeeth, 2)} teeth` }];
}

const FIELDS = [...pairFields('Sector', 'Gear'), EFFICIENCY_FIELD];
/** What is stated of one, from its fields. */
export type SectorMesh = Coupling & Stated<typeof FIELDS>;

/** A sector gear and a gear on parallel axes: a gear pair while the sector's teeth are there. */
export const sectorMesh: CouplingKind<SectorMesh> = {
  type: 'sector-mesh',
  label: 'Sector mesh',
  fields: FIELDS,
  model(c, ctx) {
    const { mesh, findings } = meshOf<Sector, Gear>(c, ctx, [['sector'], ['gear']]);
    if (!mesh) return { findings };
    const { model } = mesh;
    return { model: { ...model, engagements: [...engagement(mesh.a, mesh.geometry, model.ports[0]), ...(model.engagements ?? [])] }, findings };
  },
};
