export * from './table';
export * from './tables';
export { shownIn } from './shown';
export { type ComputedRun, computedRuns, runTable } from './runs';
