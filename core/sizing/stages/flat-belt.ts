import { frictionBelt } from './wrapped';

export const flatBelt = frictionBelt('flat-belt', 'Flat belt', 'flat', 30);
