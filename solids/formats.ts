/** Names of formats alone, for whoever offers them: no kernel, no reader. */
export const PART_FORMATS = ['step', 'stp', 'stl', '3mf', 'glb', 'gltf'] as const;
export type PartFormat = (typeof PART_FORMATS)[number];
/** Units that a file without one may be in, mm. */
export const MESH_UNITS = { mm: 1, cm: 10, m: 1000, in: 25.4 } as const;
export type MeshUnit = keyof typeof MESH_UNITS;

/** The format that a file's name says; undefined where it is none of ours. */
export const partFormatOf = (file: string): PartFormat | undefined => {
  const ending = /\.([^.]+)$/.exec(file.toLowerCase())?.[1];
  return PART_FORMATS.find((f) => f === ending);
};

/** Whether a format states no unit, so that it must be asked for. */
export const needsUnit = (f: PartFormat): boolean => f === 'stl';
