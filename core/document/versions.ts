import { DESIGN_FORMAT, DESIGN_VERSION } from '../fields/types';

/** What makes a document of one version one of the next. None changes what it is given. */
const TO_NEXT: Readonly<Record<number, (document: object) => object>> = {
  // Version 2 may state stops and home of every freedom of a joint, a joint's bearings, and sector gears: what version 1 states means the same in it.
  1: (document) => ({ ...document, version: 2 }),
};

/** A document of an earlier version as one of this; any other as it is. Looks at format and version alone. */
export function migrate<T extends object>(document: T): T {
  let at: { format?: unknown; version?: unknown } = document;
  if (at.format !== DESIGN_FORMAT) return document;
  while (typeof at.version === 'number' && at.version < DESIGN_VERSION) {
    const next = TO_NEXT[at.version];
    if (!next) break;
    at = next(at);
  }
  return at as T;
}
