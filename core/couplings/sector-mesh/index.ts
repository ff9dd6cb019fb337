import type { Stated } from '../../fields/fields';
import type { Gear, Sector } from '../../elements/index';
import type { Coupling } from '../../fields/types';
import { vscale } from '../../math/index';
import { DISTANCE_TOLERANCE_FIELD, EFFICIENCY_FIELD, type Placed, pairFields } from '../common';
import { meshOf } from '../gear-pair/index';
import type { CouplingKind } from '../protocol';
import { sectorEngagement } from './engagement';

const FIELDS = [...pairFields('Sector', 'Gear or second sector'), DISTANCE_TOLERANCE_FIELD, EFFICIENCY_FIELD];
/** What is stated of one, from its fields. */
export type SectorMesh = Coupling & Stated<typeof FIELDS>;

const TAKES = [['sector'], ['gear', 'sector']] as const;

/** A sector gear and a gear, or two sectors, on parallel axes: a gear pair while the sector's teeth are there. */
export const sectorMesh: CouplingKind<SectorMesh> = {
  type: 'sector-mesh',
  label: 'Sector mesh',
  fields: FIELDS,
  takes: TAKES,
  axes: 'parallel',
  model(c, ctx) {
    const { mesh, findings } = meshOf<Sector, Gear>(c, ctx, TAKES);
    if (!mesh) return { findings };
    const { model } = mesh;
    // A second sector ends as well, on the other side of the pitch point.
    const second =
      mesh.b.element.type === 'sector'
        ? sectorEngagement(mesh.b as Placed<Sector>, vscale(mesh.geometry.radial, -1), model.ports[1], 'second sector')
        : [];
    return {
      model: { ...model, engagements: [...sectorEngagement(mesh.a, mesh.geometry.radial, model.ports[0]), ...second, ...(model.engagements ?? [])] },
      findings,
    };
  },
};
