import type { Design } from '@unirota/core/document';
import { holdContent, holdsContent } from '@unirota/core/shapes';
import { contentsIn, isShape } from '@unirota/core/elements';
import { ShapeContents } from './shape-contents';

/** Whose contents: a worker has the name of the person who is signed in. */
const contents = new ShapeContents(self.name);

/** Brings the contents that a design names from this machine's storage to the engine, before it is worked out. */
export async function holdContents(d: Design): Promise<void> {
  const wanted = contentsIn(d.elements.filter((e) => isShape(e) && !e.open)).filter((hash) => !holdsContent(hash));
  if (!wanted.length) return;
  const { readShape } = await import('@unirota/core/geometry');
  for (const hash of wanted) {
    const bytes = await contents.get(hash).catch(() => undefined);
    // What is damaged stays unknown: the checks say so.
    const surface =
      bytes &&
      ((): ReturnType<typeof readShape>['mesh'] | undefined => {
        try {
          return readShape(bytes, hash).mesh;
        } catch {
          return undefined;
        }
      })();
    if (surface) holdContent(hash, () => surface);
  }
}
