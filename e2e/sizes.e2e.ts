import type { Page } from '@playwright/test';
import { expect, openCopy, test } from './site';

const DEMOS = [
  'Paddle winding gear',
  'Swing footbridge',
  'Weed rake',
  'Screw gate',
  'Level board',
  'Fish-pass flap',
  'Inspection lift',
  'Towpath trolley',
];
const STEPS = ['Duty', 'Train', 'Layout', 'Motion', 'Loads', 'Rating', 'Release'];
/** Two frames on, and all that moves of itself at its end. */
const atRest = (page: Page): Promise<void> =>
  page.evaluate(async () => {
    const frame = (): Promise<number> => new Promise((r) => requestAnimationFrame(r));
    await frame();
    await frame();
    const ending = document.getAnimations().filter((a) => a.effect?.getComputedTiming().endTime !== Infinity);
    await Promise.all(ending.map((a) => a.finished.catch(() => undefined)));
  });

const SIZES = [
  { width: 1024, height: 700 },
  { width: 1280, height: 800 },
  { width: 1920, height: 1080 },
];

/** What is cut off, or lies over something else, on the page as it stands: runs in the page. */
function faults(): string[] {
  const out = new Set<string>();
  const shown = (e: Element): boolean => {
    const s = getComputedStyle(e);
    return s.visibility !== 'hidden' && s.display !== 'none' && Number(s.opacity) > 0.05;
  };
  const name = (e: Element): string =>
    `${e.tagName.toLowerCase()}${e.className && typeof e.className === 'string' ? `.${e.className.split(' ')[0]}` : ''} “${(e.textContent ?? '').trim().slice(0, 40)}”`;
  const scrolls = (e: Element): boolean => /auto|scroll/.test(getComputedStyle(e).overflowX + getComputedStyle(e).overflowY);
  const clips = (e: Element): boolean => /hidden|clip/.test(getComputedStyle(e).overflowX);
  /** Texts with the boxes of their letters, those that can be seen. */
  const texts: { e: Element; r: DOMRect; layer: Element | null }[] = [];
  const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let n = walker.nextNode(); n; n = walker.nextNode()) {
    const e = n.parentElement!;
    if (
      !n.textContent?.trim() ||
      !e.checkVisibility() ||
      !shown(e) ||
      e.closest('.visually-hidden, .cdk-visually-hidden, title, option, script, style, svg defs')
    ) {
      continue;
    }
    const range = document.createRange();
    range.selectNodeContents(n);
    const r = range.getBoundingClientRect();
    if (r.width < 1 || r.height < 1) continue;
    // What is scrolled away is not seen now; what an ancestor clips without scrolling is lost.
    let seen = true;
    for (let p: Element | null = e; p && p !== document.body; p = p.parentElement) {
      const b = p.getBoundingClientRect();
      const over = Math.max(r.right - b.right, b.left - r.left);
      const below = Math.max(r.bottom - b.bottom, b.top - r.top);
      if (scrolls(p)) {
        if (over > 1 || below > 1) {
          seen = false;
          break;
        }
      } else if (clips(p) && (over > 1.5 || below > 3)) {
        if (getComputedStyle(p).textOverflow !== 'ellipsis' || over < 1.5) out.add(`cut off: ${name(e)} in ${name(p).slice(0, 30)}`);
        seen = false;
        break;
      }
    }
    if (!seen) continue;
    if (r.right > innerWidth + 1 || r.left < -1 || r.bottom > innerHeight + 1) out.add(`outside the window: ${name(e)}`);
    texts.push({ e, r, layer: e.closest('.labels, .dots, .tools, .views, .colouring, .held, .note, .keys') });
  }
  for (let i = 0; i < texts.length; i++) {
    for (let j = i + 1; j < texts.length; j++) {
      const [a, b] = [texts[i], texts[j]];
      if (a.e === b.e || a.e.contains(b.e) || b.e.contains(a.e)) continue;
      const w = Math.min(a.r.right, b.r.right) - Math.max(a.r.left, b.r.left);
      const h = Math.min(a.r.bottom, b.r.bottom) - Math.max(a.r.top, b.r.top);
      if (w > 2 && h > 4) out.add(`over one another: ${name(a.e)} and ${name(b.e)}`);
    }
  }
  // Fields whose text is longer than they are.
  for (const f of document.querySelectorAll('input')) {
    if (f.type === 'text' && f.checkVisibility() && f.scrollWidth > f.clientWidth + 1) {
      out.add(`field too narrow: ${f.getAttribute('aria-label') ?? f.id} “${f.value}”`);
    }
  }
  return [...out];
}

test('the work has the room: picture and panes at three sizes, folded by key, remembered for each step', async ({ page, site }) => {
  await openCopy(page, site, 'Weed rake');
  const picture = async (): Promise<{ width: number; height: number }> => (await page.locator('canvas').first().boundingBox())!;
  const order = page.getByRole('navigation', { name: 'Work order' });
  for (const [width, height, least] of [
    [1280, 800, [860, 500]],
    [1024, 700, [600, 400]],
    [1920, 1080, [1400, 500]],
  ] as const) {
    await page.setViewportSize({ width, height });
    await atRest(page);
    const p = await picture();
    expect(p.width).toBeGreaterThanOrEqual(least[0]);
    expect(p.height).toBeGreaterThanOrEqual(least[1]);
  }
  await page.setViewportSize({ width: 1280, height: 800 });
  const way = page.getByRole('list', { name: 'From the source to what is selected' });
  const map = page.getByRole('group', { name: 'Train map' });
  await expect(way.getByRole('button', { name: /^M Motor shaft|Motor shaft/ })).toBeVisible();
  await expect(map).toBeHidden();
  // Pointed at, the whole map lies over the work, until the pointer leaves.
  await way.hover();
  await expect(map).toBeVisible();
  await page.mouse.move(640, 600);
  await expect(map).toBeHidden();
  await page.keyboard.press('m');
  await expect(map).toBeVisible();
  await page.keyboard.press('s');
  await expect(page.getByRole('complementary', { name: 'Data sheet' })).toBeHidden();
  await order.getByRole('button', { name: /^Loads/ }).click();
  await expect(map).toBeHidden();
  await expect(page.getByRole('complementary', { name: 'Data sheet' })).toBeVisible();
  await page.reload();
  await expect(map).toBeVisible();
  await page.getByRole('button', { name: 'Show the data sheet' }).click();
  await expect(page.getByRole('complementary', { name: 'Data sheet' })).toBeVisible();
  await page.keyboard.press('f');
  await expect(order).toBeHidden();
  expect((await picture()).width).toBe(1280);
  await page.keyboard.press('Escape');
  await expect(order).toBeVisible();
});

test.describe('three sizes of the window', () => {
  for (const demo of DEMOS) {
    test(`${demo}: nothing cut off, nothing over anything else, on any step`, async ({ page, site }) => {
      test.setTimeout(180_000);
      await openCopy(page, site, demo);
      const found: string[] = [];
      for (const size of SIZES) {
        await page.setViewportSize(size);
        for (const step of STEPS) {
          await page
            .getByRole('navigation', { name: 'Work order' })
            .getByRole('button', { name: new RegExp(`^${step}`) })
            .click();
          // Something is selected: in the folded map of a low window, or in the whole one.
          const folded = page.getByRole('list', { name: 'From the source to what is selected' });
          const map = (await folded.isVisible()) ? folded : page.getByRole('group', { name: 'Train map' });
          if (step === 'Layout') await map.getByRole('button').nth(1).press('Enter');
          await atRest(page);
          for (const f of await page.evaluate(faults)) found.push(`${size.width} × ${size.height}, ${step}: ${f}`);
        }
      }
      expect(found).toEqual([]);
    });
  }
});
