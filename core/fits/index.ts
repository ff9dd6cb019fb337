export * from './din-3967';
export * from './iso-286';
