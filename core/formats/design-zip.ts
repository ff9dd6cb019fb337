/** A design with its shapes as one file: a zip of `design.json` and `shapes/<content>`. */
import { strToU8, zipSync } from 'fflate/browser';
import type { Design } from '../document/index';
import { CannotRead, LARGEST_DESIGN } from './refused';
import { contentHash, readShape } from './shape-file';
import { isZip, unzipped } from './unzip';

/** `contents`: stored bytes by hash. */
export function writeDesignZip(design: Design, contents: ReadonlyMap<string, Uint8Array>): Uint8Array<ArrayBuffer> {
  const shapes = Object.fromEntries([...contents].map(([hash, bytes]) => [`shapes/${hash}`, [bytes, { level: 0 }] as [Uint8Array, { level: 0 }]]));
  return zipSync({ 'design.json': strToU8(JSON.stringify(design, null, 1)), ...shapes }, { level: 6 }) as Uint8Array<ArrayBuffer>;
}

/** The document, not read yet, and the contents beside it, each checked against its name. Throws `CannotRead`. */
export function readDesignZip(bytes: Uint8Array): { text: string; contents: Map<string, Uint8Array<ArrayBuffer>> } {
  const files = unzipped(bytes, (name) => name === 'design.json' || /^shapes\/[0-9a-f]{64}$/.test(name), LARGEST_DESIGN);
  const document = files['design.json'] as Uint8Array | undefined;
  if (!document) throw new CannotRead('The file holds no design.');
  const contents = new Map<string, Uint8Array<ArrayBuffer>>();
  for (const [name, content] of Object.entries(files)) {
    const hash = name.slice('shapes/'.length);
    if (name === 'design.json') continue;
    if (contentHash(content) !== hash) throw new CannotRead('A shape in the file is damaged: it is not what its name says.');
    readShape(content);
    contents.set(hash, content as Uint8Array<ArrayBuffer>);
  }
  return { text: new TextDecoder().decode(document), contents };
}

/** Whether bytes are a zip with a design document. */
export function holdsDesign(bytes: Uint8Array): boolean {
  if (!isZip(bytes)) return false;
  return unzipped(bytes, (name) => name === 'design.json')['design.json'] !== undefined;
}
