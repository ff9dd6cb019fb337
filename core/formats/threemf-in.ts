/** 3MF core specification 1.3, read: objects, components, build items, names, base colours and the unit. */
import { SaxesParser } from 'saxes';
import { type Frame, WORLD, isColour, within } from '../math/index';
import type { Mesh } from '../solids/index';
import { CannotRead, MOST_TRIANGLES } from './refused';
import { type ReadMesh, rigid, scaled } from './mesh-in';
import { unzipped } from './unzip';

const UNITS: Readonly<Record<string, number>> = { micron: 1e-3, millimeter: 1, centimeter: 10, inch: 25.4, foot: 304.8, meter: 1000 };
/** How deep components may stand in components, and how many bodies a file may come to. */
const DEEPEST = 16;
const MOST_BODIES = 10_000;
/** Where programs put the model (3MF core specification, 2.1). */
const ROOT = '3D/3dmodel.model';

interface Component {
  object: string;
  place: Frame;
}
interface ModelObject {
  name: string;
  colour?: string;
  mesh?: Mesh;
  components: Component[];
}

function frameIn(text: string | undefined, k: number): Frame {
  if (text === undefined) return WORLD;
  const m = text.trim().split(/\s+/).map(Number);
  if (m.length !== 12 || !m.every(Number.isFinite)) throw new CannotRead('The file is damaged: a transform has not twelve numbers.');
  return { x: [m[0], m[1], m[2]], y: [m[3], m[4], m[5]], z: [m[6], m[7], m[8]], o: [m[9] * k, m[10] * k, m[11] * k] };
}

/** The model of the package: objects and what is built of them. */
function readModel(text: string): { unit: number; objects: Map<string, ModelObject>; items: Component[] } {
  const objects = new Map<string, ModelObject>();
  const items: Component[] = [];
  const colours = new Map<string, (string | undefined)[]>();
  let [unit, palette]: [number, string] = [1, ''];
  let object: ModelObject | undefined;
  let points: number[] = [],
    triangles: number[] = [];
  const parser = new SaxesParser({ xmlns: false });
  parser.on('doctype', () => {
    throw new CannotRead('The file declares entities, which are not taken in.');
  });
  parser.on('error', () => {
    throw new CannotRead('The file is damaged: its model is no XML.');
  });
  parser.on('opentag', ({ name, attributes: a }) => {
    const at = (key: string): number => Number(a[key]);
    switch (name.split(':').at(-1)) {
      case 'model':
        unit = UNITS[a['unit'] ?? 'millimeter'] ?? 1;
        break;
      case 'basematerials':
        colours.set((palette = a['id']), []);
        break;
      case 'base':
        colours.get(palette)?.push((a as Partial<Record<string, string>>)['displaycolor']?.slice(0, 7).toLowerCase());
        break;
      case 'object': {
        const colour = colours.get(a['pid'])?.[at('pindex') || 0];
        object = { name: a['name'] || `Part ${objects.size + 1}`, ...(isColour(colour) && { colour }), components: [] };
        objects.set(a['id'], object);
        [points, triangles] = [[], []];
        break;
      }
      case 'vertex':
        points.push(at('x'), at('y'), at('z'));
        break;
      case 'triangle':
        triangles.push(at('v1'), at('v2'), at('v3'));
        if (triangles.length > 3 * MOST_TRIANGLES) throw new CannotRead(`The file has more than ${MOST_TRIANGLES} triangles.`);
        break;
      case 'component':
        object?.components.push({ object: a['objectid'], place: frameIn(a['transform'], unit) });
        break;
      case 'item':
        items.push({ object: a['objectid'], place: frameIn(a['transform'], unit) });
        break;
    }
  });
  parser.on('closetag', ({ name }) => {
    if (name.split(':').at(-1) !== 'mesh' || !object) return;
    const count = points.length / 3;
    if (triangles.some((i) => !(Number.isInteger(i) && i >= 0 && i < count))) {
      throw new CannotRead('The file is damaged: a triangle names a corner that is not there.');
    }
    object.mesh = scaled({ points: Float64Array.from(points), triangles: Uint32Array.from(triangles) }, unit);
  });
  parser.write(text).close();
  return { unit, objects, items };
}

/** The bodies in a 3MF file, mm. Throws `CannotRead`. */
export function readThreeMf(bytes: Uint8Array): ReadMesh[] {
  const files = unzipped(bytes, (name) => /\.model$/i.test(name));
  // The root of the package, where it is in its usual place; other models are parts of it.
  const [model] = Object.entries(files)
    .sort(([a], [b]) => Number(b === ROOT) - Number(a === ROOT))
    .map(([, content]) => content);
  if (!model) throw new CannotRead('This is no 3MF file: it holds no model.');
  const { objects, items } = readModel(new TextDecoder().decode(model));
  const out: ReadMesh[] = [];
  let room = MOST_TRIANGLES;
  const put = ({ object: id, place }: Component, outer: Frame, name: string | undefined, depth: number): void => {
    const o = objects.get(id);
    if (!o) throw new CannotRead('The file is damaged: it names a body that is not there.');
    if (depth > DEEPEST || out.length > MOST_BODIES) throw new CannotRead('The file’s parts stand in each other too deep, or are too many.');
    const here = within(outer, place);
    // A body can be in many places: the whole is counted as it comes.
    room -= (o.mesh?.triangles.length ?? 0) / 3;
    if (room < 0) throw new CannotRead(`The file has more than ${MOST_TRIANGLES} triangles.`);
    if (o.mesh?.triangles.length) out.push({ name: name ?? o.name, colour: o.colour, ...rigid(o.mesh, here) });
    for (const c of o.components) put(c, here, undefined, depth + 1);
  };
  for (const item of items) put(item, WORLD, undefined, 0);
  return out;
}
