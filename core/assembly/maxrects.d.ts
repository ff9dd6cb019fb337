/** The package's own module for Node and bundlers alike: its main file is none. */
declare module 'maxrects-packer/dist/maxrects-packer.mjs' {
  export * from 'maxrects-packer';
}
