/** glTF 2.0 and GLB, read: meshes with names and colours in place; metres, y up (Khronos glTF 2.0, 3.4). */
import { type Material, type Node, WebIO } from '@gltf-transform/core';
import { type Frame, type Vec3, colourOfParts, srgbOfLinear } from '../math/index';
import { CannotRead, MOST_TRIANGLES } from './refused';
import { type ReadMesh, rigid } from './mesh-in';

/** Metres to mm, and y upward to z upward: (x, y, z) → (x, −z, y). */
const up = (x: number, y: number, z: number): Vec3 => [x, -z, y];
const MM = 1000;

const TRIANGLES = 4;

function colourOf(m: Material | null): string | undefined {
  if (!m) return undefined;
  return colourOfParts(m.getBaseColorFactor().map(srgbOfLinear));
}

/** The mesh of a node, in place. `room`: triangles that the file may still come to, as a mesh can be in many places. */
function meshesOf(node: Node, out: ReadMesh[], room: { left: number }): void {
  const mesh = node.getMesh();
  if (!mesh) return;
  const points: number[] = [],
    triangles: number[] = [];
  let colour: string | undefined;
  for (const p of mesh.listPrimitives()) {
    if (Number(p.getMode()) !== TRIANGLES) continue;
    const position = p.getAttribute('POSITION')?.getArray();
    if (!position) continue;
    const count = position.length / 3;
    room.left -= Math.floor((p.getIndices()?.getCount() ?? count) / 3);
    if (room.left < 0) throw new CannotRead(`The file has more than ${MOST_TRIANGLES} triangles.`);
    const from = points.length / 3;
    for (let i = 0; i < position.length; i += 3) points.push(...up(position[i] * MM, position[i + 1] * MM, position[i + 2] * MM));
    const index = p.getIndices()?.getArray() ?? Uint32Array.from({ length: count }, (_, i) => i);
    for (const i of index) {
      if (!(i < count)) throw new CannotRead('The file is damaged: a triangle names a corner that is not there.');
      triangles.push(from + i);
    }
    colour ??= colourOf(p.getMaterial());
  }
  if (!triangles.length) return;
  const m = node.getWorldMatrix();
  // The images of our axes: x, then z (their y), then −y (their z).
  const [X, Y, Z] = [up(m[0], m[1], m[2]), up(m[4], m[5], m[6]), up(m[8], m[9], m[10])];
  const place: Frame = { x: X, y: [-Z[0], -Z[1], -Z[2]], z: Y, o: up(m[12] * MM, m[13] * MM, m[14] * MM) };
  out.push({
    name: node.getName() || mesh.getName() || `Part ${out.length + 1}`,
    colour,
    ...rigid({ points: Float64Array.from(points), triangles: Uint32Array.from(triangles) }, place),
  });
}

/** The meshes in a GLB file, or a glTF file that holds its own data, mm. Throws `CannotRead`. */
export async function readGltf(bytes: Uint8Array): Promise<ReadMesh[]> {
  const io = new WebIO();
  const out: ReadMesh[] = [];
  try {
    const text = bytes[0] === 0x67 && bytes[1] === 0x6c ? undefined : new TextDecoder().decode(bytes);
    const json = text === undefined ? undefined : (JSON.parse(text) as { buffers?: { uri?: string }[] });
    if (json?.buffers?.some((b) => b.uri !== undefined && !b.uri.startsWith('data:'))) {
      throw new CannotRead('The file keeps its data in other files: save it as GLB, or with its data inside.');
    }
    const doc = json ? await io.readJSON({ json: json as never, resources: dataUris(json) }) : await io.readBinary(bytes);
    const room = { left: MOST_TRIANGLES };
    for (const node of doc.getRoot().listNodes()) meshesOf(node, out, room);
  } catch (e) {
    if (e instanceof CannotRead) throw e;
    throw new CannotRead('The file cannot be read as glTF 2.0: it is damaged, or uses extensions that are not taken in.');
  }
  return out;
}

/** Data that a file holds in its own addresses. */
function dataUris(json: { buffers?: { uri?: string }[] }): Record<string, Uint8Array<ArrayBuffer>> {
  const out: Record<string, Uint8Array<ArrayBuffer>> = {};
  for (const { uri } of json.buffers ?? []) {
    if (uri) out[uri] = Uint8Array.from(atob(uri.slice(uri.indexOf(',') + 1)), (c) => c.charCodeAt(0));
  }
  return out;
}
