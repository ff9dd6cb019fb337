import { BufferTarget, CanvasSource, Mp4OutputFormat, Output, QUALITY_HIGH, WebMOutputFormat, canEncodeVideo } from 'mediabunny';
import { zipSync } from 'fflate';

export interface FilmWanted {
  readonly width: number;
  readonly height: number;
  /** Pictures a second, and how long the film is, s. */
  readonly rate: number;
  readonly length: number;
  /** Draws the picture at a time of the film, s. */
  draw(into: OffscreenCanvasRenderingContext2D, time: number): void;
  /** Told after every picture how much is done; false ends the film there. */
  progress(done: number): boolean;
}
export interface Film {
  readonly content: Blob;
  readonly extension: 'mp4' | 'webm' | 'zip';
  readonly pictures: number;
}

/** Formats in the order in which they are tried: what plays nearly everywhere first. */
const FORMATS = [
  ['avc', 'mp4'],
  ['vp9', 'webm'],
  ['vp8', 'webm'],
] as const;

/**
 * Makes a film picture by picture with the browser's own encoder; a series of pictures
 * (PNG, in a zip file) where it has none. Ended early it is as long as it has come.
 */
export async function makeFilm(wanted: FilmWanted): Promise<Film> {
  const { width, height, rate } = wanted;
  const canvas = new OffscreenCanvas(width, height);
  const into = canvas.getContext('2d', { alpha: false, willReadFrequently: true })!;
  const pictures = Math.max(1, Math.round(wanted.length * rate) + 1);
  for (const [codec, extension] of FORMATS) {
    if (!(await canEncodeVideo(codec, { width, height, quality: QUALITY_HIGH }).catch(() => false))) continue;
    const target = new BufferTarget();
    const output = new Output({ format: extension === 'mp4' ? new Mp4OutputFormat() : new WebMOutputFormat(), target });
    const source = new CanvasSource(canvas, { codec, bitrate: QUALITY_HIGH, latencyMode: 'realtime' });
    output.addVideoTrack(source, { frameRate: rate });
    await output.start();
    let made = 0;
    for (; made < pictures; made++) {
      wanted.draw(into, made / rate);
      await source.add(made / rate, 1 / rate);
      // Lets the page answer between two pictures.
      await new Promise((r) => setTimeout(r));
      if (!wanted.progress((made + 1) / pictures)) {
        made++;
        break;
      }
    }
    await output.finalize();
    return { content: new Blob([target.buffer!], { type: extension === 'mp4' ? 'video/mp4' : 'video/webm' }), extension, pictures: made };
  }
  const files: Record<string, Uint8Array> = {};
  let made = 0;
  for (; made < pictures; made++) {
    wanted.draw(into, made / rate);
    const png = await canvas.convertToBlob({ type: 'image/png' });
    files[`${String(made).padStart(5, '0')}.png`] = new Uint8Array(await png.arrayBuffer());
    if (!wanted.progress((made + 1) / pictures)) {
      made++;
      break;
    }
  }
  return { content: new Blob([zipSync(files, { level: 0 }) as BlobPart], { type: 'application/zip' }), extension: 'zip', pictures: made };
}

/** A chart under the pictures: its picture, and where in it, as parts of its width, its times begin and end. */
export interface FilmChart {
  readonly picture: CanvasImageSource & { readonly width: number; readonly height: number };
  readonly from: number;
  readonly to: number;
}
/** What a film looks like besides the train. */
export interface FilmFrame {
  readonly width: number;
  readonly height: number;
  /** Height of the train's picture; the rest is the chart's. */
  readonly above: number;
  /** s of the run */
  readonly lasts: number;
  readonly ground: string;
  readonly ink: string;
  readonly brass: string;
  readonly chart?: FilmChart;
}

/** Draws one picture of a film at a time of the run: the ground, the train, the time, and the chart with its cursor. */
export function drawFrame(
  into: OffscreenCanvasRenderingContext2D,
  f: FilmFrame,
  at: number,
  train: (width: number, height: number) => void,
  time: string,
): void {
  const { width, height, above, chart } = f;
  into.fillStyle = f.ground;
  into.fillRect(0, 0, width, height);
  train(width, above);
  into.fillStyle = f.ink;
  into.font = `600 ${Math.round(height / 32)}px 'IBM Plex Sans Condensed', sans-serif`;
  into.fillText(time, height / 32, above - height / 32);
  if (!chart) return;
  const { picture } = chart;
  const high = height - above,
    wide = Math.min(width, (picture.width / picture.height) * high);
  const left = (width - wide) / 2;
  into.drawImage(picture, left, above, wide, high);
  const x = left + wide * (chart.from + ((chart.to - chart.from) * at) / f.lasts);
  into.strokeStyle = f.brass;
  into.lineWidth = 2;
  into.beginPath();
  into.moveTo(x, above + 0.1 * high);
  into.lineTo(x, above + 0.82 * high);
  into.stroke();
}
