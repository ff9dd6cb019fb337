export * from './forces';
export type { Wrench } from './external';
export * from './ledger';
export * from './masses';
export * from './operating';
export * from './holding';
export * from './bearings';
export * from './load-sheet';
export * from './advantage';
