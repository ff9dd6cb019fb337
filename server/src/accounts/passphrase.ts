import { hash, verify } from '@node-rs/argon2';
import { dictionary } from '@zxcvbn-ts/language-common';
import { FairQueue } from '../fair-queue';
import { Refusal } from '../refusal';

/** Argon2id with 19 MiB, two passes, one lane: the smallest that the OWASP password storage recommendations name for it. */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;
/** How many are computed at once: each takes memory and a core. */
const AT_ONCE = 2;
/** More than all wrong tries that one address has. */
const MOST_WAITING = 200;

const common = new Set<string>((dictionary as unknown as Record<string, string[]>)['passwords']);
const plain = (s: string): string =>
  s
    .normalize('NFKC')
    .toLowerCase()
    .replace(/[\s_.-]+/g, '');

/** A passphrase that others would guess, or undefined. */
export function weakness(passphrase: string, about: readonly string[]): string | undefined {
  const p = plain(passphrase);
  if (common.has(passphrase.toLowerCase()) || common.has(p)) return 'This passphrase is one of the most common ones: choose another';
  // A common word with a few signs around it is hardly better than the word.
  const core = p.replace(/^[^a-z]+|[^a-z]+$/g, '');
  if (core.length < 8 || (core !== p && common.has(core) && p.length - core.length < 8)) {
    return 'This passphrase is easy to guess: take several words that do not belong together';
  }
  if (new Set(p).size < 6 || /^(.{1,64})\1+$/.test(p)) return 'This passphrase repeats itself: take several words that do not belong together';
  if (about.some((a) => plain(a).length > 3 && p === plain(a))) return 'This passphrase is your own name: choose another';
  return undefined;
}

let working = 0;
/** Who waits, by whose passphrase it is. */
const queue = new FairQueue<() => void>();

async function inTurn<T>(who: string, work: () => Promise<T>): Promise<T> {
  if (working >= AT_ONCE) {
    if (queue.size >= MOST_WAITING) throw new Refusal(503, 'Too many people are signing in just now: try again', { retryAfter: 5 });
    // Whoever is let go on has the place of who let him.
    await new Promise<void>((go) => queue.push(who, go));
  } else working++;
  try {
    return await work();
  } finally {
    const next = queue.take();
    if (next) next.item();
    else working--;
  }
}

export const hashed = (passphrase: string): Promise<string> => inTurn('', () => hash(passphrase.normalize('NFKC'), COST));

/** Something to compare with where nobody has the name, so that it takes as long as where somebody has. */
let nobody: Promise<string> | undefined;

export async function matches(stored: string | undefined, passphrase: string, who = ''): Promise<boolean> {
  const against = stored || (await (nobody ??= hashed('nobody has this passphrase')));
  const right = await inTurn(who, () => verify(against, passphrase.normalize('NFKC')));
  return right && !!stored;
}
