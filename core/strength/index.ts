export * from './body';
export * from './mesh';
export { patchAt, spread, type Patch } from './spread';
export { supportsOf, type Support } from './supports';
export type { Equation, Tie } from './ties';
export * from './model';
export * from './field';
