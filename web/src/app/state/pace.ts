/** How often figures follow a movement, ms: numbers faster than that cannot be read. */
const READ_EVERY = 80;

/** Tells of movements at the rate at which figures can be read: the first at once, the last always. A touch allocates nothing. */
export class Pace {
  private last = -Infinity;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private readonly fire = (): void => {
    this.timer = undefined;
    this.last = performance.now();
    this.tell();
  };

  constructor(private readonly tell: () => void) {}

  touch(): void {
    if (this.timer !== undefined) return;
    const wait = READ_EVERY - (performance.now() - this.last);
    if (wait <= 0) this.fire();
    else this.timer = setTimeout(this.fire, wait);
  }

  end(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
  }
}
