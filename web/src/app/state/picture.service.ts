import { Injectable } from '@angular/core';
import type { LayoutLook } from '../scene/look';

/** The layout's picture, for whoever wants it elsewhere: in a film. */
@Injectable()
export class PictureService {
  /** Draws the layout as it is seen into a picture of a size; set by the layout while it is there. */
  draw?: (into: OffscreenCanvasRenderingContext2D, width: number, height: number) => void;
  /** Told when no more pictures are wanted: the layout has its own size again. */
  drawn?: () => void;
  /** How it looks now; set by the layout as well. */
  look?: () => LayoutLook;
}
