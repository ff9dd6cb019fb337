export * from './assembly';
export * from './profiles';
export * from './nesting';
export * from './sheets';
export * from './meshed';
export * from './moved';
export * from './mechanism';
