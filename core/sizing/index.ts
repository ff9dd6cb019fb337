export * from './settle';
export * from './planetary';
export * from './stages/index';
export * from './catalogue';
export * from './measured';
export * from './cures';
export * from './edits';
export * from './place';
