import { ComponentHarness } from '@angular/cdk/testing';

/** What a person reads in a chart and does with it. Places are parts of the scale's width. */
export class ChartHarness extends ComponentHarness {
  static readonly hostSelector = 'uni-chart';

  async texts(): Promise<string[]> {
    return Promise.all((await this.locatorForAll('svg text')()).map((t) => t.text()));
  }
  /** Numbers along both scales. */
  async ticks(): Promise<string[]> {
    return Promise.all((await this.locatorForAll('.tick text, text.tick')()).map((t) => t.text()));
  }
  async curve(): Promise<string> {
    return (await (await this.locatorFor('path.curve')()).getAttribute('d')) ?? '';
  }

  /** Presses in the middle of the picture's height. */
  async press(part: number): Promise<void> {
    const [x, y] = await this.at(part, 0.5);
    this.send('svg', 'pointerdown', x, y);
    this.send('svg', 'pointerup', x, y);
    await this.forceStabilize();
  }
  /** Drags along the scale below. */
  async mark(from: number, to: number): Promise<void> {
    const [a, y] = await this.at(from, 0.9);
    const [b] = await this.at(to, 0.9);
    this.send('.overlay', 'mousedown', a, y);
    this.send(undefined, 'mousemove', (a + b) / 2, y);
    this.send(undefined, 'mousemove', b, y);
    this.send(undefined, 'mouseup', b, y);
    await this.forceStabilize();
  }
  async doublePress(): Promise<void> {
    const [x, y] = await this.at(0.5, 0.5);
    this.send('svg', 'dblclick', x, y);
    await this.forceStabilize();
  }
  async nudge(point: number, key: string): Promise<void> {
    const points = await this.locatorForAll('circle.point')();
    await points[point].dispatchEvent('keydown', { key });
  }

  private async at(part: number, down: number): Promise<[number, number]> {
    const { left, top, width, height } = await (await this.locatorFor('svg')()).getDimensions();
    const [from, to] = [62 / 460, 448 / 460];
    return [left + width * (from + part * (to - from)), top + height * down];
  }
  /** A real event of the pointer: what follows a drag listens to the window, and asks where the pointer is. */
  private send(selector: string | undefined, type: string, clientX: number, clientY: number): void {
    const init = { bubbles: true, cancelable: true, clientX, clientY, view: window, button: 0, buttons: 1 };
    const at = selector === undefined ? window : document.querySelector(`uni-chart ${selector}`)!;
    at.dispatchEvent(type.startsWith('pointer') ? new PointerEvent(type, { ...init, pointerId: 1 }) : new MouseEvent(type, init));
  }
}
