import { expose, transfer } from 'comlink';
import { type ShapeData, welded } from '@unirota/core/shapes';
import type { Mesh } from '@unirota/core/solids';
import type { Design } from '@unirota/core/document';
import type { Frame } from '@unirota/core/math';
import { type MeshUnit, loadKernel, readParts } from '@unirota/solids';
import { CannotRead, ContentStore, creased, holdsDesign, readDesignZip, readModel, readShape, writeDesignZip } from '@unirota/core/geometry';

/** A part of a file as the page knows it: everything but its surface. */
export interface PartLine {
  readonly content: string;
  readonly data: Pick<ShapeData, 'part' | 'file' | 'places' | 'size' | 'colour'>;
  readonly place: Frame;
  readonly path: readonly string[];
}
/** What a file holds, or why it is not taken in. */
export type PartsRead =
  | {
      readonly parts: readonly PartLine[];
      readonly contents: ReadonlyMap<string, Uint8Array<ArrayBuffer>>;
      readonly notes: readonly string[];
      readonly problem?: undefined;
    }
  | { readonly problem: string };

/** A surface ready to be drawn: three corners a triangle with their normals, and the sharp edges, mm. */
export interface DrawnContent {
  readonly positions: Float32Array<ArrayBuffer>;
  readonly normals: Float32Array<ArrayBuffer>;
  readonly edges: Float32Array<ArrayBuffer>;
}

/** A document with the contents of its shapes, and what its file held besides. */
export interface DesignFile {
  readonly text: string;
  readonly contents: ReadonlyMap<string, Uint8Array<ArrayBuffer>>;
  readonly untaken: readonly string[];
  readonly problem?: undefined;
}

/** Calls, and gives the sentence where a file cannot be taken in. */
async function orProblem<T>(work: () => Promise<T>): Promise<T | { problem: string }> {
  try {
    return await work();
  } catch (e) {
    if (e instanceof CannotRead) return { problem: e.message };
    throw e;
  }
}

const api = {
  /** The parts of a file. `kernel` is where the kernel's code is: it is loaded for STEP alone. */
  read(bytes: Uint8Array, file: string, unit: MeshUnit, kernel: string, report: (done: number) => void): Promise<PartsRead> {
    return orProblem(async () => {
      const { parts, notes } = await readParts(
        bytes,
        file,
        unit,
        () => loadKernel({ address: kernel }),
        (done, of) => report(done / of),
      );
      const store = new ContentStore();
      const lines = parts.map(({ data, place, path }): PartLine => {
        const content = store.put(data);
        const { part, file: from, places, size, colour } = data;
        return { content, data: { part, file: from, places, size, colour }, place, path };
      });
      return transfer(
        { parts: lines, contents: store.contents, notes },
        [...store.contents.values()].map((b) => b.buffer),
      );
    });
  },

  /** A stored content as it is drawn, and its surface as the engine takes it; undefined where it is damaged. */
  drawn(bytes: Uint8Array, hash: string): { drawn: DrawnContent; surface: Mesh } | undefined {
    try {
      const { mesh, edges } = readShape(bytes, hash);
      const { positions, normals } = creased(mesh);
      const drawn = { positions, normals, edges: Float32Array.from(edges) };
      const surface = welded(mesh);
      const buffers = [positions, normals, drawn.edges, surface.points, surface.triangles].map((a) => a.buffer as ArrayBuffer);
      return transfer({ drawn, surface }, buffers);
    } catch (e) {
      if (e instanceof CannotRead) return undefined;
      throw e;
    }
  },

  /** A design and its shapes as one file. */
  zip(design: Design, contents: ReadonlyMap<string, Uint8Array>): Uint8Array<ArrayBuffer> {
    return writeDesignZip(design, contents);
  },

  /** A design and its shapes out of one file, or a mechanism of another engine: the document is not read yet. */
  design(bytes: Uint8Array): Promise<DesignFile | { problem: string }> {
    return orProblem((): Promise<DesignFile> => {
      if (holdsDesign(bytes)) return Promise.resolve({ ...readDesignZip(bytes), untaken: [] });
      const { design, contents, untaken } = readModel(bytes);
      return Promise.resolve({ text: JSON.stringify(design), contents, untaken });
    });
  },
};
export type PartsApi = typeof api;
expose(api);
