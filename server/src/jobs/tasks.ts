import { deflateSync, inflateSync } from 'node:zlib';
import { DEEPEST, type Design, migrate, withoutUnstated } from '@unirota/core/document';
import { contentsIn } from '@unirota/core/elements';
import { sketch } from '@unirota/core';
import { createRequestSchema, saveRequestSchema } from '@unirota/contract';
import { applied, difference } from './delta';
import { type Refused, designProblems, nestedTooDeep, requestProblems } from './reading';
import { faultsOf } from './release-tasks';

/** What the workers do: all that looks into a document. Each call is a function of its arguments. */

export interface Stored {
  /** zlib: the whole text, or its difference from the whole text of `keyNumber`. */
  body: Uint8Array;
  keyNumber: number | null;
}
export interface Checked extends Stored {
  base: number;
  save: string;
  name: string;
  /** Contents of imported shapes that it names, by hash. */
  shapes?: string[];
  /** Bytes of the document's text. */
  size: number;
  /** As JSON, where asked for. */
  sketch?: string;
}
/** A whole document of before, from which the new one may be told apart. */
export interface Key {
  number: number;
  body: Uint8Array;
}

/** A difference larger than this share of the whole is not worth its dependence. */
const WORTH = 0.4;

function stored(text: string, key: Key | undefined): Stored {
  const whole = deflateSync(text, { level: 6 });
  if (!key) return { body: whole, keyNumber: null };
  const from = inflateSync(key.body).toString();
  const differs = difference(from, text);
  const body = deflateSync(differs, { level: 6 });
  // Kept apart from the whole only where it saves much and gives the very same text back.
  return body.length < WORTH * whole.length && applied(from, differs) === text ? { body, keyNumber: key.number } : { body: whole, keyNumber: null };
}

/** Reads a request that carries a design, checks all of it, and makes it ready to be stored. */
export function check({
  body,
  kind,
  key,
  withSketch,
}: {
  body: Uint8Array;
  kind: 'create' | 'save';
  key?: Key;
  withSketch?: boolean;
}): Checked | Refused {
  if (nestedTooDeep(body, DEEPEST + 2)) return { status: 422, title: 'The request is nested too deep to be a design' };
  let request: { base?: number; save: string; design: Design };
  try {
    request = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(body)) as typeof request;
  } catch {
    return { status: 400, title: 'The request is not JSON' };
  }
  const refused = requestProblems(kind === 'save' ? saveRequestSchema : createRequestSchema, request) ?? designProblems(request.design);
  if (refused) return refused;
  const { base = 0, save } = request;
  const design = withoutUnstated(migrate(request.design));
  return ready(design, save, base, key, withSketch);
}

function ready(design: Design, save: string, base: number, key?: Key, withSketch?: boolean): Checked {
  const text = JSON.stringify(design);
  return {
    base,
    save,
    name: design.name,
    size: Buffer.byteLength(text),
    ...stored(text, key),
    shapes: contentsIn(design.elements),
    ...(withSketch ? { sketch: JSON.stringify(sketch(design)) } : {}),
  };
}

/** The text of a stored document. */
export function textOf({ body, key }: { body: Uint8Array; key?: Uint8Array }): string {
  const own = inflateSync(body).toString();
  return key ? applied(inflateSync(key).toString(), own) : own;
}

/** A stored document under another name, ready to be stored as a design of its own. */
export function renamed({ body, key, name, save }: { body: Uint8Array; key?: Uint8Array; name: string; save: string }): Checked {
  return ready({ ...migrate(JSON.parse(textOf({ body, key })) as Design), name }, save, 0);
}

/** The sketch of a stored document, as JSON. */
export function sketched(stored: { body: Uint8Array; key?: Uint8Array }): string {
  return JSON.stringify(sketch(JSON.parse(textOf(stored)) as Design));
}

/** A document that the program brings along, ready to be stored; its problems where it is not valid. */
export function shipped({ text, save }: { text: string; save: string }): Checked | Refused {
  const design = JSON.parse(text) as Design;
  return designProblems(design) ?? ready(design, save, 0, undefined, true);
}

/** What is wrong with the content of a shape, in a sentence: it must be what its hash says, and readable. */
export async function shapeProblem({ body, hash }: { body: Uint8Array; hash: string }): Promise<string | undefined> {
  const { CannotRead, readShape } = await import('@unirota/core/geometry');
  try {
    readShape(body, hash);
    return undefined;
  } catch (e) {
    if (e instanceof CannotRead) return e.message;
    throw e;
  }
}

/** The faults of a stored document, in sentences. */
export const faultsIn = (stored: { body: Uint8Array; key?: Uint8Array }): string[] => faultsOf(textOf(stored));

export { type Refused, designProblems, nestedTooDeep };
export { type SentRelease, releaseIn } from './release-tasks';
export { answerOf, deckOf, scriptOf } from './strength-tasks';
