/**
 * The stored content of an imported part: a zip of `shape.json` (names, size, places), `mesh.bin` (points as 32-bit floats, mm,
 * then triangles as 32-bit indices, then edges) and, where there is one, `part.step`. The same part gives the same bytes, so
 * that its SHA-256 is its name.
 */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { strToU8, zipSync } from 'fflate/browser';
import { isColour } from '../math/index';
import { PLACE_KINDS, type ShapeData, type ShapePlace, type ShapeSize } from '../shapes/index';
import { CannotRead, LARGEST_UNPACKED, checkPoints, checkTriangles } from './refused';
import { unzipped } from './unzip';

const FORMAT = 'unirota-shape';
const VERSION = 1;
/** The hour that the zip states for its files: none of this has one. */
const NO_TIME = new Date(1980, 0, 1);

interface Head {
  format: typeof FORMAT;
  version: number;
  part: string;
  file: string;
  colour?: string;
  points: number;
  triangles: number;
  edges: number;
  size: ShapeSize;
  places: readonly ShapePlace[];
}

/** The name under which content is stored: SHA-256 in hexadecimal. */
export const contentHash = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

export function writeShape(d: ShapeData): Uint8Array<ArrayBuffer> {
  const { points, triangles } = d.mesh;
  const head: Head = {
    format: FORMAT,
    version: VERSION,
    part: d.part,
    file: d.file,
    colour: d.colour,
    points: points.length,
    triangles: triangles.length,
    edges: d.edges.length,
    size: d.size,
    places: d.places,
  };
  const bin = new Uint8Array(4 * (points.length + triangles.length + d.edges.length));
  new Float32Array(bin.buffer, 0, points.length).set(points);
  new Uint32Array(bin.buffer, 4 * points.length, triangles.length).set(triangles);
  new Float32Array(bin.buffer, 4 * (points.length + triangles.length), d.edges.length).set(d.edges);
  return zipSync(
    { 'shape.json': strToU8(JSON.stringify(head)), 'mesh.bin': bin, ...(d.step && { 'part.step': d.step }) },
    { mtime: NO_TIME, level: 6 },
  ) as Uint8Array<ArrayBuffer>;
}

/** Contents as they are stored, each once: what is the same data is written once. */
export class ContentStore {
  readonly contents = new Map<string, Uint8Array<ArrayBuffer>>();
  private readonly hashes = new Map<ShapeData, string>();

  /** Stores a content, and gives its name. */
  put(data: ShapeData): string {
    let hash = this.hashes.get(data);
    if (hash === undefined) {
      const bytes = writeShape(data);
      this.hashes.set(data, (hash = contentHash(bytes)));
      this.contents.set(hash, bytes);
    }
    return hash;
  }
}

const isObject = (v: unknown): boolean => typeof v === 'object' && v !== null;
const figures = (v: unknown, n: number): boolean =>
  Array.isArray(v) && v.length === n && v.every((x) => typeof x === 'number' && Math.abs(x) <= 1e15);
const count = (x: unknown, most: number): x is number => Number.isInteger(x) && (x as number) >= 0 && (x as number) <= most;

/** Whether a head is one: what others store is not trusted. */
function sound(h: Partial<Head> | null): h is Head {
  if (typeof h !== 'object' || h === null || h.format !== FORMAT || h.version !== VERSION) return false;
  const s = h.size as Partial<ShapeSize> | undefined;
  return (
    typeof h.part === 'string' &&
    typeof h.file === 'string' &&
    (h.colour === undefined || isColour(h.colour)) &&
    count(h.points, 3e7) &&
    h.points % 3 === 0 &&
    count(h.triangles, 3e7) &&
    h.triangles % 3 === 0 &&
    count(h.edges, 3e7) &&
    h.edges % 6 === 0 &&
    !!s &&
    typeof s.volume === 'number' &&
    s.volume >= 0 &&
    s.volume < 1e18 &&
    figures(s.centroid, 3) &&
    figures(s.inertia, 6) &&
    figures(s.least, 3) &&
    figures(s.most, 3) &&
    typeof s.closed === 'boolean' &&
    Array.isArray(h.places) &&
    h.places.length <= 200_000 &&
    h.places.every(
      (p) =>
        isObject(p) &&
        PLACE_KINDS.includes(p.kind) &&
        figures(p.point, 3) &&
        figures(p.direction, 3) &&
        typeof p.size === 'number' &&
        p.size >= 0 &&
        p.size <= 1e15,
    )
  );
}

/** Reads stored content; checks it against its name where one is given. Throws `CannotRead`. */
export function readShape(bytes: Uint8Array, hash?: string): ShapeData {
  if (hash !== undefined && contentHash(bytes) !== hash) throw new CannotRead('The content of the shape is damaged: it is not what its name says.');
  const files = unzipped(bytes, (name) => name === 'shape.json' || name === 'mesh.bin' || name === 'part.step', LARGEST_UNPACKED);
  const damaged = new CannotRead('The content of the shape is damaged.');
  let head: Partial<Head> | null;
  try {
    head = JSON.parse(new TextDecoder().decode(files['shape.json'])) as Partial<Head> | null;
  } catch {
    throw damaged;
  }
  const bin = files['mesh.bin'] as Uint8Array | undefined;
  if (!sound(head) || bin?.length !== 4 * (head.points + head.triangles + head.edges)) throw damaged;
  checkTriangles(head.triangles / 3);
  // A view needs its own alignment.
  const all = bin.slice().buffer;
  const points = Float64Array.from(new Float32Array(all, 0, head.points));
  const triangles = new Uint32Array(all, 4 * head.points, head.triangles).slice();
  const edges = new Float32Array(all, 4 * (head.points + head.triangles), head.edges).slice();
  checkPoints(points);
  checkPoints(edges);
  if (triangles.some((i) => i >= head.points / 3)) throw damaged;
  const step = files['part.step'] as Uint8Array | undefined;
  const { part, file, colour, size, places } = head;
  return { part, file, ...(colour && { colour }), mesh: { points, triangles }, edges, places, size, ...(step && { step }) };
}
