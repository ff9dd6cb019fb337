/** The entry of the thread that plays one order, in plain JavaScript: brings the TypeScript loader along. */
import { parentPort } from 'node:worker_threads';
import { tsImport } from 'tsx/esm/api';

const { play } = await tsImport('./player.ts', import.meta.url);
parentPort.once('message', (bytes) => play(bytes, (text) => parentPort.postMessage(text)));
