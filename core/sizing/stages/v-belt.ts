import { frictionBelt } from './wrapped';

export const vBelt = frictionBelt('v-belt', 'V-belt', 'v', 20);
