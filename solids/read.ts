import { CannotRead, type ReadFile, drawable, isZip, partsOfMeshes, readGltf, readStl, readThreeMf } from '@unirota/core/geometry';
import { MESH_UNITS, type MeshUnit, PART_FORMATS, type PartFormat, partFormatOf, tooLarge } from './formats';
import type { Kernel } from './kernel';
import type { Progress } from './step';

/** A name without its folder and extension. */
const stem = (file: string): string => file.replace(/^.*[\\/]/, '').replace(/\.[^.]*$/, '') || 'Part';

/**
 * The parts of a file: STEP by the kernel, which is loaded when it is needed; STL, 3MF and glTF as meshes. Throws `CannotRead`
 * with a sentence where it cannot be taken in.
 */
export async function readParts(
  bytes: Uint8Array,
  file: string,
  unit: MeshUnit,
  kernel: () => Promise<Kernel>,
  progress?: Progress,
): Promise<ReadFile> {
  if (!bytes.length) throw new CannotRead('The file is empty.');
  const problem = tooLarge(bytes.length);
  if (problem) throw new CannotRead(problem);
  const format = partFormatOf(file);
  const read = await parts(bytes, file, format, unit, kernel, progress);
  const out = await Promise.all(read.parts.map(async (p) => ({ ...p, data: await drawable(p.data) })));
  const thinned = out.filter((p, i) => p.data !== read.parts[i].data).length;
  return {
    parts: out,
    notes: [
      ...read.notes,
      ...(thinned
        ? [`${thinned} ${thinned === 1 ? 'part is' : 'parts are'} drawn more coarsely than stated; mass and places are of the whole.`]
        : []),
    ],
  };
}

async function parts(
  bytes: Uint8Array,
  file: string,
  format: PartFormat | undefined,
  unit: MeshUnit,
  kernel: () => Promise<Kernel>,
  progress?: Progress,
): Promise<ReadFile> {
  switch (format) {
    case 'step':
    case 'stp': {
      const { readStep, stepBegins } = await import('./read-step');
      // Before the kernel is loaded.
      stepBegins(bytes);
      return readStep(await kernel(), bytes, file, progress);
    }
    case 'stl':
      return partsOfMeshes(readStl(bytes, stem(file), MESH_UNITS[unit]), file);
    case '3mf':
      if (!isZip(bytes)) throw new CannotRead('This is no 3MF file.');
      return partsOfMeshes(readThreeMf(bytes), file);
    case 'glb':
    case 'gltf':
      return partsOfMeshes(await readGltf(bytes), file);
    case undefined:
      throw new CannotRead(`Files of this kind are not taken in; these are: ${PART_FORMATS.join(', ')}.`);
  }
}
