export * from './table';
export * from './tables';
export { shownIn } from './shown';
