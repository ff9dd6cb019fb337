import type { Frame } from '../math/index';
import { type Fineness, type Mesh, FINE_MESH, joinedMesh, meshOf, movedMesh } from '../solids/index';
import type { Assembly } from './assembly';

/** A surface where it stands. Bodies of the same shape share the mesh. */
export interface MeshedBody {
  name: string;
  /** sRGB, #rrggbb. */
  colour: string;
  mesh: Mesh;
  /** Its own frame in the world, mm. */
  place: Frame;
}

/** Members with the surfaces of their bodies: what mesh formats are written from. */
export interface MeshedAssembly {
  name: string;
  members: { name: string; bodies: MeshedBody[] }[];
}

/** The surfaces of an assembly's bodies; equal shapes are made once. */
export function meshed(a: Assembly, fineness: Fineness = FINE_MESH): MeshedAssembly {
  const known = new Map<string, Mesh>();
  return {
    name: a.name,
    members: a.members.map((m) => ({
      name: m.name,
      bodies: m.bodies.map(({ name, colour, place, shape, solids, content }) => {
        if (content) return { name, colour, mesh: content.mesh, place };
        let mesh = known.get(shape);
        if (!mesh) known.set(shape, (mesh = joinedMesh(solids.map((s) => meshOf(s, fineness)))));
        return { name, colour, mesh, place };
      }),
    })),
  };
}

/** All surfaces where they stand, mm. */
export const inPlace = (a: MeshedAssembly): Mesh[] => a.members.flatMap((m) => m.bodies.map((b) => movedMesh(b.mesh, b.place)));
