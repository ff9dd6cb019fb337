import { remembered } from './browser-memory';

/** Where this browser keeps who was here last. */
export const OWNER_KEY = 'unirota.person';

/**
 * Who was here last, as the name of a worker that opens what is kept on this machine.
 * The options of a worker are written out where it is made: the builder reads its kind there.
 */
export const lastOwner = (): string => remembered(OWNER_KEY) ?? '';
