/** The worker's entry in plain JavaScript: brings the TypeScript loader along, which a thread does not have by itself. */
import { tsImport } from 'tsx/esm/api';

export const { check, textOf, renamed, sketched, shipped, scriptOf, deckOf, answerOf, shapeProblem, releaseIn, faultsIn } = await tsImport(
  './tasks.ts',
  import.meta.url,
);
