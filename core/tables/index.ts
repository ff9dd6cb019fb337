export * from './table';
export * from './tables';
export { shownIn } from './shown';
export { variantTable } from './variants';
export { runTable } from './runs';
