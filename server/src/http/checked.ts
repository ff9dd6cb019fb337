import type { Request } from 'express';
import { ValidationError, type AnySchema } from 'yup';
import { ID_PATTERN } from '@unirota/contract';
import { Refusal } from '../refusal';

/** The request's body as its schema says, or a refusal that names each place. */
export function checked<T>(schema: AnySchema, body: unknown): T {
  try {
    return schema.validateSync(body ?? {}, { strict: true, abortEarly: false }) as T;
  } catch (e) {
    // A body so deep that the schema cannot follow it.
    if (e instanceof RangeError) throw new Refusal(422, 'The request cannot be taken');
    if (!(e instanceof ValidationError)) throw e;
    throw new Refusal(422, 'The request cannot be taken', {
      problems: (e.inner.length ? e.inner : [e]).map((x) => ({ path: (x.path ?? '').slice(0, 200), message: x.message.slice(0, 300) })),
    });
  }
}

/** An id in the address; what cannot be one is not there. */
export function idIn(req: Request, name = 'id', what = 'This design does not exist or has been deleted'): string {
  const id = String(req.params[name]);
  if (!ID_PATTERN.test(id)) throw new Refusal(404, what);
  return id;
}

export function numberIn(req: Request, name: string): number {
  const text = String(req.params[name]);
  const n = Number(text);
  if (!/^\d{1,9}$/.test(text) || n < 1) throw new Refusal(404, 'There is no such revision');
  return n;
}
