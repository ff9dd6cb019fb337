export * from './outline';
export * from './solid';
export * from './mass';
export * from './faceted';
export * from './arcs';
export * from './mesh';
export * from './thread';
export * from './reach';
