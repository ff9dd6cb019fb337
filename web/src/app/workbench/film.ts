import { BufferTarget, CanvasSource, Mp4OutputFormat, Output, QUALITY_HIGH, WebMOutputFormat, canEncodeVideo } from 'mediabunny';
import { zipSync } from 'fflate';

export interface FilmWanted {
  readonly width: number;
  readonly height: number;
  /** Pictures a second, and how long the film is, s. */
  readonly rate: number;
  readonly length: number;
  /** Draws the picture at a time of the film, s. */
  draw(into: CanvasRenderingContext2D, time: number): void;
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

/** Makes a film picture by picture with the browser's own encoder; a series of pictures (PNG, in a zip file) where it has none. Ended early it is as long as it has come. */
export async function makeFilm(wanted: FilmWanted): Promise<Film> {
  const { width, height, rate } = wanted;
  const canvas = document.createElement('canvas');
  [canvas.width, canvas.height] = [width, height];
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
    const png = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'));
    if (png) files[`${String(made).padStart(5, '0')}.png`] = new Uint8Array(await png.arrayBuffer());
    if (!wanted.progress((made + 1) / pictures)) {
      made++;
      break;
    }
  }
  return { content: new Blob([zipSync(files, { level: 0 }) as BlobPart], { type: 'application/zip' }), extension: 'zip', pictures: made };
}
