/** Names of formats alone, for whoever offers them: no kernel, no reader. */
export const PART_FORMATS = ['step', 'stp', 'stl', '3mf', 'glb', 'gltf'] as const;
export type PartFormat = (typeof PART_FORMATS)[number];
/** Mechanisms of other engines, by their names' endings. */
export const MECHANISM_FILES = ['urdf', 'xml', 'mjcf'] as const;
/** Units that a file without one may be in, mm. */
export const MESH_UNITS = { mm: 1, cm: 10, m: 1000, in: 25.4 } as const;
export type MeshUnit = keyof typeof MESH_UNITS;

/** The format that a file's name says; undefined where it is none of ours. */
export const partFormatOf = (file: string): PartFormat | undefined => PART_FORMATS.find((f) => f === endingOf(file));
/** Whether a file's name says that it is a mechanism of another engine. */
export const isMechanismFile = (file: string): boolean => MECHANISM_FILES.some((f) => f === endingOf(file));

const endingOf = (file: string): string | undefined => /\.([^.]+)$/.exec(file.toLowerCase())?.[1];

/** A file with parts or a mechanism holds at most so many bytes. */
export const LARGEST_FILE = 64 * 1024 * 1024;
/** A design with its shapes in one file: the contents that a design may have, and its document. */
export const LARGEST_DESIGN_FILE = 544 * 1024 * 1024;

/** The sentence for a file that is too large; asked before it is read. */
export const tooLarge = (size: number, most = LARGEST_FILE): string | undefined =>
  size > most ? `The file is larger than ${most / 1024 / 1024} MiB.` : undefined;

/** Whether a format states no unit, so that it must be asked for. */
export const needsUnit = (f: PartFormat): boolean => f === 'stl';

/** Formats of drawings, by the extension of their files. */
export const DRAWING_FORMATS = ['svg', 'pdf', 'dxf'] as const;
export type DrawingFormat = (typeof DRAWING_FORMATS)[number];
