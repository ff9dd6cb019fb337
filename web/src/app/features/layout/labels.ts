/** Size of a label in the layout, px: a letter's width, what is round the text, and its height. */
const LABEL = { letter: 7, edge: 12, height: 20 };

/** Labels stand over the picture and follow it without change detection. */
export function drawLabels(host: HTMLElement, labels: readonly { text: string; tone: string; x: number; y: number }[]): void {
  while (host.childElementCount > labels.length) host.lastElementChild!.remove();
  // What would stand over another goes below it.
  const boxes: { x: number; y: number; w: number }[] = [];
  labels.forEach((l, k) => {
    const w = LABEL.letter * l.text.length + LABEL.edge;
    let { y } = l;
    for (let tries = 0, hit = true; hit && tries < 2 * boxes.length; tries++) {
      const over = boxes.find((b) => Math.abs(b.x - l.x) < (b.w + w) / 2 && Math.abs(b.y - y) < LABEL.height - 0.5);
      hit = over !== undefined;
      if (over) y = over.y + LABEL.height;
    }
    boxes.push({ x: l.x, y, w });
    let el = host.children[k] as HTMLElement | undefined;
    if (!el) host.appendChild((el = document.createElement('span')));
    if (el.textContent !== l.text) el.textContent = l.text;
    el.className = l.tone;
    el.style.transform = `translate(${l.x.toFixed(1)}px, ${y.toFixed(1)}px) translate(-50%, -50%)`;
  });
}

/** The world's axes as they are seen now: ends of three lines in the corner, x, y, z two by two. */
export function drawTriad(svg: SVGElement, to: Float64Array): void {
  for (let k = 0; k < 3; k++) {
    const g = svg.children[k];
    const [x, y] = [26 * to[2 * k], -26 * to[2 * k + 1]];
    g.children[0].setAttribute('x2', x.toFixed(1));
    g.children[0].setAttribute('y2', y.toFixed(1));
    g.children[1].setAttribute('x', (1.28 * x).toFixed(1));
    g.children[1].setAttribute('y', (1.28 * y + 4).toFixed(1));
    // What points at the eye is not named: its letter would lie on the others.
    g.children[1].setAttribute('opacity', Math.hypot(x, y) < 6 ? '0' : '1');
  }
}
