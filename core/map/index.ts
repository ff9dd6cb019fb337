/** The train as it is drawn: lines, symbols and texts, and the way along them. */
export { LIVE, type Cell, type MapCoupling, type MapLayout, type MapMember, mapLayout, ratioText, widthOf } from './layout';
export { bearing, symbolPath } from './symbols';
export { type MapWays, type WayPart, couplingsTo, reachedFrom, wayTo } from './way';
export { type MapShape, mapShapes, mapSvg } from './svg';
export { couplingRatio, linesInBox, linkageText, loadText, loadsText, speedText } from './texts';
