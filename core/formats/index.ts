export * from './csv';
export * from './log';
