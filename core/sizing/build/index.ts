export * from './built';
export * from './copies';
export * from './features';
export * from './join';
export * from './part';
export * from './measure';
