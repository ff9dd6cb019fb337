export * from './inverse';
export * from './ledger';
export * from './masses';
export * from './operating';
export * from './holding';
export * from './load-sheet';
export * from './advantage';
