/** A mechanism of another engine out of its file, or out of a zip of it and its meshes. */
import type { Vec3 } from '../math/index';
import type { ShapeData } from '../shapes/index';
import { type TakenMechanism, designOfMechanism } from './mechanism-in';
import { scaled, shapeOfMesh } from './mesh-in';
import { readMjcf } from './mjcf-in';
import { CannotRead } from './refused';
import { readStl } from './stl-in';
import { isZip, unzipped } from './unzip';
import { readUrdf } from './urdf-in';

/** Without the folder or the package that a model names it by. */
const base = (path: string): string => path.replace(/^.*[\\/]/, '').toLowerCase();

/** Whether a text is a model: MJCF, or URDF. */
export const isModel = (text: string): boolean => /<(mujoco|robot)[\s>]/.test(text.slice(0, 20_000));

/** Throws `CannotRead`. */
export function readModel(bytes: Uint8Array): TakenMechanism {
  const zip = isZip(bytes);
  const files = zip ? unzipped(bytes, (name) => /\.(urdf|xml|mjcf|stl)$/i.test(name)) : { model: bytes };
  const models = Object.entries(files).flatMap(([name, content]) => {
    const text = zip && /\.stl$/i.test(name) ? '' : new TextDecoder().decode(content);
    return isModel(text) ? [{ name, text }] : [];
  });
  if (!models.length) throw new CannotRead(zip ? 'The file holds neither a design nor a mechanism.' : 'This is neither MJCF nor URDF.');
  if (models.length > 1) {
    throw new CannotRead(
      `The file holds ${models.length} mechanisms: ${models
        .map((m) => m.name)
        .slice(0, 4)
        .join(', ')}. Leave one.`,
    );
  }
  const [{ text }] = models;
  const read = /<mujoco[\s>]/.test(text.slice(0, 20_000)) ? readMjcf(text) : readUrdf(text);
  const known = new Map<string, ShapeData | undefined>();
  const mesh = (file: string, scale: Vec3): ShapeData | undefined => {
    const key = `${base(file)} ${scale.join(' ')}`;
    if (!known.has(key)) known.set(key, shapeIn(files, file, scale));
    return known.get(key);
  };
  return designOfMechanism(read, mesh);
}

/** The shape in a mesh file that a model names, in metres: 1000 mm times its scale. Undefined where it is not there. */
function shapeIn(files: Readonly<Record<string, Uint8Array>>, file: string, scale: Vec3): ShapeData | undefined {
  const found = Object.keys(files).find((name) => base(name) === base(file) && /\.stl$/i.test(name));
  if (found === undefined) return undefined;
  try {
    const [read] = readStl(files[found], base(file).replace(/\.[^.]*$/, ''), 1);
    const even = scale.every((k) => k === scale[0]);
    const mesh = even ? scaled(read.mesh, 1000 * scale[0]) : { ...read.mesh, points: read.mesh.points.map((x, i) => x * 1000 * scale[i % 3]) };
    return shapeOfMesh({ ...read, mesh }, base(file));
  } catch (e) {
    if (e instanceof CannotRead) return undefined;
    throw e;
  }
}
