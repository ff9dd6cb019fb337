import { readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { type TakenPart, addShapes, open } from '../core/engine';
import { type Design, emptyDesign } from '../core/document/index';
import { CannotRead, ContentStore, holdsDesign, isZip, readDesignZip, readModel, readShape } from '../core/formats/geometry';
import { type ShapeData, holdContent } from '../core/shapes/index';
import { type Kernel, type MeshUnit, readParts } from '../solids/index';
import { isMechanismFile } from '../solids/formats';

/** What is wrong with what was asked for, in words: the program ends with exit code 2. */
export class Refused extends Error {}

/** The bytes of a file. Throws `Refused` where it cannot be read. */
function bytesOf(path: string): Uint8Array {
  try {
    return readFileSync(path);
  } catch (e) {
    const code = (e as NodeJS.ErrnoException).code;
    throw new Refused(
      code === 'ENOENT'
        ? `There is no file ${path}.`
        : code === 'EISDIR'
          ? `${path} is a folder, not a design document.`
          : `${path} cannot be read (${code}).`,
    );
  }
}

/** A design with the contents of its shapes: as stored, and as read. */
export interface Input {
  design: Design;
  contents: Map<string, Uint8Array<ArrayBuffer>>;
  shapes: Map<string, ShapeData>;
  notes: string[];
}

function designIn(text: string, path: string): Design {
  let document: unknown;
  try {
    document = JSON.parse(text);
  } catch (e) {
    throw new Refused(`${path} is not JSON: ${(e as Error).message}`);
  }
  const read = open(document);
  if (read.problems) {
    throw new Refused(
      [`${path} is not a design that can be analysed:`, ...read.problems.map((p) => `  ${p.path || 'document'}: ${p.message}`)].join('\n'),
    );
  }
  return read.design;
}

/** Contents that the checks look at as well. */
function held(shapes: Map<string, ShapeData>): Map<string, ShapeData> {
  for (const [hash, { mesh }] of shapes) holdContent(hash, () => mesh);
  return shapes;
}

/** A mechanism of another engine as a design; what is not taken over is noted. */
function readMechanism(bytes: Uint8Array, path: string): Input {
  try {
    const { design, contents, untaken } = readModel(bytes);
    const shapes = held(new Map([...contents].map(([hash, b]) => [hash, readShape(b)])));
    return { design: designIn(JSON.stringify(design), path), contents, shapes, notes: untaken.map((u) => `Not taken over: ${u}`) };
  } catch (e) {
    throw e instanceof CannotRead ? new Refused(`${path}: ${e.message}`) : e;
  }
}

/** The design in a file: a document, or a zip of it and its shapes. Throws `Refused` where it cannot be read as one. */
export function readInput(path: string): Input {
  const bytes = bytesOf(path);
  if (isMechanismFile(path) || (isZip(bytes) && !holdsDesign(bytes))) return readMechanism(bytes, path);
  if (!isZip(bytes)) return { design: designIn(new TextDecoder().decode(bytes), path), contents: new Map(), shapes: new Map(), notes: [] };
  try {
    const { text, contents } = readDesignZip(bytes);
    return { design: designIn(text, path), contents, shapes: held(new Map([...contents].map(([hash, b]) => [hash, readShape(b)]))), notes: [] };
  } catch (e) {
    throw e instanceof CannotRead ? new Refused(`${path}: ${e.message}`) : e;
  }
}

/** The design in a file. Throws `Refused` where it cannot be read as one. */
export const readDesignFile = (path: string): Design => readInput(path).design;

/** Parts of a file as a design: a member for each, in place. Throws `Refused`. */
export async function readPartsFile(path: string, unit: MeshUnit, kernel: () => Promise<Kernel>): Promise<Input> {
  const file = basename(path);
  try {
    const { parts, notes } = await readParts(bytesOf(path), file, unit, kernel);
    const store = new ContentStore();
    const shapes = new Map<string, ShapeData>();
    const taken = parts.map(({ data, place }, i): TakenPart => {
      const content = store.put(data);
      shapes.set(content, data);
      return { content, data, place, onto: { newMember: parts.length > 1 ? `${data.part} ${i + 1}` : data.part, kind: 'body' } };
    });
    return { design: addShapes(emptyDesign(file.replace(/\.[^.]*$/, '')), taken).design, contents: store.contents, shapes: held(shapes), notes };
  } catch (e) {
    throw e instanceof CannotRead ? new Refused(`${path}: ${e.message}`) : e;
  }
}

/** Writes a file. Throws `Refused` where it cannot be written. */
export function writeTo(path: string, content: string | Uint8Array): void {
  try {
    writeFileSync(path, content);
  } catch (e) {
    throw new Refused(`${path} cannot be written (${(e as NodeJS.ErrnoException).code}).`);
  }
}
