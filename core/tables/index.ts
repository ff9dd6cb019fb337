export * from './table';
export * from './tables';
export { shownIn } from './shown';
export { variantTable } from './variants';
export { type ComputedRun, computedRuns, runTable } from './runs';
