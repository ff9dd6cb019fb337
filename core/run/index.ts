export * from './sweep';
