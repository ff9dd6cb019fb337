export * from './inverse';
export * from './ledger';
export * from './masses';
