export * from './ratio';
export * from './pi-ratio';
