import type { HereState, ServerState } from './saver';

export interface StateText {
  text: string;
  tone: '' | 'good' | 'warn' | 'bad';
}

/** How the work is kept, in a few words. “Kept on this machine” only where it is on the disk. */
export function stateText(server: ServerState, here: HereState, blocked: boolean, trouble = ''): StateText {
  switch (server) {
    case 'saved':
      return { text: $localize`Saved`, tone: 'good' };
    case 'offline':
      return { text: $localize`The server is away: work is kept on this machine and sent later`, tone: 'warn' };
    case 'conflict':
      return { text: $localize`Saved elsewhere meanwhile`, tone: 'bad' };
    case 'deleted':
      return { text: $localize`Deleted elsewhere`, tone: 'bad' };
    case 'refused':
      return { text: $localize`Not saved: ${trouble}`, tone: 'bad' };
  }
  if (blocked || here === 'full') return { text: $localize`Kept nowhere yet: do not close before it says Saved`, tone: 'bad' };
  const kept = here === 'kept';
  switch (server) {
    case 'away':
      return kept
        ? { text: $localize`Kept on this machine; sent when the server is back`, tone: 'warn' }
        : { text: $localize`Keeping …`, tone: 'warn' };
    case 'followed':
      return { text: kept ? $localize`Kept on this machine; another tab saves it` : $localize`Saving in another tab …`, tone: '' };
    case 'waiting':
    case 'saving':
      return { text: kept ? $localize`Kept on this machine, saving …` : $localize`Saving …`, tone: '' };
  }
}
