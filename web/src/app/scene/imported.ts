import { BufferAttribute, BufferGeometry, type Mesh } from 'three';
import { MeshBVH, acceleratedRaycast } from 'three-mesh-bvh';
import { type Element } from '@unirota/core/document';
import { type ShapeElement, isShape } from '@unirota/core/elements';
import type { Vec3 } from '@unirota/core/math';
import type { Drawn } from './geometry';

/** A surface of an imported shape: three corners a triangle with their normals, and its sharp edges, mm. */
export interface SurfaceContent {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly edges: Float32Array;
}
/** Surfaces that are at hand, by the hash that elements name. */
export type SurfaceContents = ReadonlyMap<string, SurfaceContent>;

/** Triangles from which a pointer finds its way by a tree. */
const MANY = 2000;

const known = new WeakMap<SurfaceContent, Drawn>();
const NOTHING = new BufferGeometry().setAttribute('position', new BufferAttribute(new Float32Array(0), 3));

function geometryOf(points: Float32Array, normals?: Float32Array): BufferGeometry {
  const g = new BufferGeometry().setAttribute('position', new BufferAttribute(points, 3));
  if (normals) g.setAttribute('normal', new BufferAttribute(normals, 3));
  return g;
}

/** The twelve edges of a box. */
function boxLines(lo: Vec3, hi: Vec3): Float32Array {
  const at = (k: number): number[] => [k & 1 ? hi[0] : lo[0], k & 2 ? hi[1] : lo[1], k & 4 ? hi[2] : lo[2]];
  const out: number[] = [];
  for (let k = 0; k < 8; k++) for (const bit of [1, 2, 4]) if (!(k & bit)) out.push(...at(k), ...at(k | bit));
  return Float32Array.from(out);
}

/** An imported shape as it is drawn: its surface where it is at hand, else its box; undefined of anything else. */
export function drawnShape(e: Element, contents: SurfaceContents): Drawn | undefined {
  if (!isShape(e)) return undefined;
  const content = contents.get(e.content ?? '');
  if (!content) return boxOf(e);
  let d = known.get(content);
  if (!d) {
    d = { surface: geometryOf(content.positions, content.normals), lines: geometryOf(content.edges) };
    known.set(content, d);
  }
  return d;
}

const boxes = new WeakMap<Element, Drawn>();
function boxOf(e: ShapeElement): Drawn {
  let d = boxes.get(e);
  if (!d) boxes.set(e, (d = { surface: NOTHING, lines: geometryOf(e.least && e.most ? boxLines(e.least, e.most) : new Float32Array(0)) }));
  return d;
}

/** Lets a pointer find its way on a large surface. */
export function quicklyFound(mesh: Mesh<BufferGeometry>): void {
  const g = mesh.geometry as BufferGeometry & { boundsTree?: MeshBVH };
  if (g.getAttribute('position').count < 3 * MANY) return;
  g.boundsTree ??= new MeshBVH(g);
  mesh.raycast = acceleratedRaycast;
}
