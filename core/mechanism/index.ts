export * from './compile';
export * from './eliminate';
export * from './mechanism';
export * from './mobility';
export * from './stops';
export * from './structure';
export * from './phases';
export * from './hand';
