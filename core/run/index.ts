export * from './sweep';
export * from './profiles';
export * from './run';
export * from './quantities';
