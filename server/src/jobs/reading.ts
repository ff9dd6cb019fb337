import { type AnySchema, ValidationError } from 'yup';
import { readDesign } from '@unirota/core/document';
import { compileQuickCheck } from './quick';

/** What is wrong with what a client sends: asked by every task that reads a request. */

export interface Refused {
  status: 400 | 422;
  title: string;
  problems?: { path: string; message: string }[];
}
const quick = compileQuickCheck();

export function requestProblems(schema: AnySchema, body: unknown): Refused | undefined {
  try {
    schema.validateSync(body, { strict: true, abortEarly: false });
    return undefined;
  } catch (e) {
    if (!(e instanceof ValidationError)) throw e;
    return {
      status: 422,
      title: 'The request cannot be taken',
      problems: (e.inner.length ? e.inner : [e]).slice(0, 20).map((x) => ({ path: (x.path ?? '').slice(0, 200), message: x.message.slice(0, 300) })),
    };
  }
}

export function designProblems(document: unknown): Refused | undefined {
  if (quick(document)) return undefined;
  const { problems } = readDesign(document);
  return problems && { status: 422, title: 'The design cannot be saved as it is', problems };
}

/** Is JSON text nested deeper than a request can be? Told from the bytes, before anything is built of them. */
export function nestedTooDeep(bytes: Uint8Array, most: number): boolean {
  let depth = 0;
  let text = false;
  for (let i = 0; i < bytes.length; i++) {
    const c = bytes[i];
    if (text) {
      if (c === 0x5c) i++;
      else if (c === 0x22) text = false;
    } else if (c === 0x22) text = true;
    else if (c === 0x5b || c === 0x7b) {
      if (++depth > most) return true;
    } else if (c === 0x5d || c === 0x7d) depth--;
  }
  return false;
}
