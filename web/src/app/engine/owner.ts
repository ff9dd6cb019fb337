/** Where this browser keeps who was here last. */
export const OWNER_KEY = 'unirota.person';

/** Options of a worker that opens what is kept on this machine: its name says whose. */
export function ownedWorker(): WorkerOptions {
  let name = '';
  try {
    name = localStorage.getItem(OWNER_KEY) ?? '';
  } catch {
    // Blocked: nothing is kept for anybody.
  }
  return { type: 'module', name };
}
