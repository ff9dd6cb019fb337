import { readFileSync, writeFileSync } from 'node:fs';
import { open } from '../core/engine';
import type { Design } from '../core/document/index';

/** What is wrong with what was asked for, in words: the program ends with exit code 2. */
export class Refused extends Error {}

/** The design in a file. Throws `Refused` where it cannot be read as one. */
export function readDesignFile(path: string): Design {
  let text: string;
  try {
    text = readFileSync(path, 'utf8');
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

/** Writes a file. Throws `Refused` where it cannot be written. */
export function writeTo(path: string, content: string | Uint8Array): void {
  try {
    writeFileSync(path, content);
  } catch (e) {
    throw new Refused(`${path} cannot be written (${(e as NodeJS.ErrnoException).code}).`);
  }
}
