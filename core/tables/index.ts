export * from './table';
export * from './tables';
