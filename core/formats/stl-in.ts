/** STL, binary or text: triangles without names or unit. */
import { WORLD } from '../math/index';
import { CannotRead, checkTriangles } from './refused';
import type { ReadMesh } from './mesh-in';

const NUMBER = /[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?|nan|inf/gi;

function readText(text: string): Float64Array {
  const out: number[] = [];
  for (const line of text.split('\n')) {
    const at = line.indexOf('vertex');
    if (at < 0) continue;
    const figures = line.slice(at + 6).match(NUMBER);
    if (figures?.length !== 3) throw new CannotRead('The file is damaged: a corner has not three numbers.');
    out.push(...figures.map(Number));
    checkTriangles(Math.max(1, out.length / 9));
  }
  if (out.length % 9) throw new CannotRead('The file is damaged: a triangle has not three corners.');
  return Float64Array.from(out);
}

function readBinary(bytes: Uint8Array): Float64Array {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const count = view.getUint32(80, true);
  checkTriangles(count);
  if (bytes.length < 84 + 50 * count) throw new CannotRead(`The file is cut short: it states ${count} triangles and does not hold them.`);
  const out = new Float64Array(9 * count);
  for (let i = 0; i < count; i++) for (let k = 0; k < 9; k++) out[9 * i + k] = view.getFloat32(84 + 50 * i + 12 + 4 * k, true);
  return out;
}

/** The mesh in an STL file; its unit is what the person says. Throws `CannotRead`. */
export function readStl(bytes: Uint8Array, name: string, mmPerUnit: number): ReadMesh[] {
  const size = bytes.length >= 84 ? new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true) : -1;
  // Some binary files begin with “solid”: their length tells.
  const binary = bytes.length === 84 + 50 * size;
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 512));
  if (!binary && bytes.length < 84 && !/^\s*solid/.test(head)) throw new CannotRead('This is no STL file.');
  const points = !binary && /^\s*solid/.test(head) ? readText(new TextDecoder('latin1').decode(bytes)) : readBinary(bytes);
  const triangles = Uint32Array.from({ length: points.length / 3 }, (_, i) => i);
  checkTriangles(triangles.length / 3);
  return [{ name, mesh: { points: points.map((x) => x * mmPerUnit), triangles }, place: WORLD }];
}
