export * from './listed';
export * from './quantity';
export * from './systems';
export * from './motion-unit';
