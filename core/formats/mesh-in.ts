import { WORLD, type Frame } from '../math/index';
import { type Mesh, movedMesh } from '../solids/index';
import { type ShapeData, placesOfMesh, sizeOfMesh, welded } from '../shapes/index';
import { checkPoints, checkTriangles } from './refused';

/** A mesh as a file states one, mm, with the name and colour that it has there. */
export interface ReadMesh {
  name: string;
  colour?: string;
  mesh: Mesh;
  /** Where its own frame stands in the file, mm. */
  place: Frame;
}

/** A part of a file, ready to be fastened to a member: its content, and where it stands in the file, mm. */
export interface ReadPart {
  data: ShapeData;
  place: Frame;
  /** Names of the assemblies that it stands in, from the outermost. */
  path: readonly string[];
}

/** What came out of a file: its parts, and what should be known of them. */
export interface ReadFile {
  parts: ReadPart[];
  notes: string[];
}

/** A mesh as a shape: welded, weighed, with its places. Throws `CannotRead` where its figures cannot be taken. */
export function shapeOfMesh({ name, colour, mesh }: ReadMesh, file: string): ShapeData {
  checkTriangles(mesh.triangles.length / 3);
  checkPoints(mesh.points);
  const sound = welded(mesh);
  checkTriangles(sound.triangles.length / 3);
  const { mesh: outward, size } = sizeOfMesh(sound);
  return { part: name, file, colour, mesh: outward, size, ...placesOfMesh(outward) };
}

/** Meshes of a file as its parts. */
export const partsOfMeshes = (meshes: readonly ReadMesh[], file: string): ReadFile => {
  checkTriangles(meshes.reduce((n, m) => n + m.mesh.triangles.length / 3, 0));
  const parts = meshes.map((m) => ({ data: shapeOfMesh(m, file), place: m.place, path: [] }));
  const open = parts.filter((p) => !p.data.size.closed).map((p) => `“${p.data.part}”`);
  return {
    parts,
    notes: open.length
      ? [`The surface of ${open.slice(0, 5).join(', ')}${open.length > 5 ? ` and ${open.length - 5} more` : ''} is open: the mass is unknown.`]
      : [],
  };
};

/** A mesh in another unit: `k` mm to one of it. */
export const scaled = ({ points, triangles }: Mesh, k: number): Mesh =>
  k === 1 ? { points, triangles } : { points: points.map((x) => x * k), triangles };

/** A placement that is more than a turn and a shift (a scale, a mirror) is put into the mesh. */
export function rigid(mesh: Mesh, m: Frame): { mesh: Mesh; place: Frame } {
  const { x, y, z } = m;
  const unitary = [x, y, z].every((v) => Math.abs(Math.hypot(...v) - 1) < 1e-6);
  const det = x[0] * (y[1] * z[2] - y[2] * z[1]) - x[1] * (y[0] * z[2] - y[2] * z[0]) + x[2] * (y[0] * z[1] - y[1] * z[0]);
  return unitary && Math.abs(det - 1) < 1e-5 ? { mesh, place: m } : { mesh: movedMesh(mesh, m), place: WORLD };
}
