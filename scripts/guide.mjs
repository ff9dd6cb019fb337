/**
 * Makes the guide that opens inside the page from docs/guide.md: its sections
 * as HTML, their steps, and the pictures. Run before the page is built.
 */
import { copyFileSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { marked } from 'marked';

const STEPS = ['Duty', 'Train', 'Layout', 'Motion', 'Loads', 'Rating', 'Release'];

/** The sections of a guide: title, steps that the title names, HTML, and the pictures that it shows. */
export function sectionsOf(text) {
  return text
    .split(/^(?=#{1,2} )/m)
    .filter((part) => part.trim())
    .map((part) => {
      const [first, ...rest] = part.split('\n');
      const title = first.replace(/^#+\s*(\d+\s*·\s*)?/, '').trim();
      const pictures = [...part.matchAll(/!\[[^\]]*\]\(screenshots\/([^)]+)\)/g)].map((m) => m[1]);
      const html = marked.parse(rest.join('\n').replaceAll('](screenshots/', '](guide/'), { async: false });
      return { title, steps: STEPS.filter((s) => new RegExp(`\\b${s}\\b`).test(title)).map((s) => s.toLowerCase()), html, pictures };
    });
}

const root = fileURLToPath(new URL('..', import.meta.url));
if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const into = join(root, 'web/public/guide');
  rmSync(into, { recursive: true, force: true });
  mkdirSync(into, { recursive: true });
  const sections = sectionsOf(readFileSync(join(root, 'docs/guide.md'), 'utf8'));
  for (const name of new Set(sections.flatMap((s) => s.pictures))) {
    mkdirSync(dirname(join(into, name)), { recursive: true });
    copyFileSync(join(root, 'docs/screenshots', name), join(into, name));
  }
  writeFileSync(join(into, 'guide.json'), JSON.stringify(sections.map(({ title, steps, html }) => ({ title, steps, html }))));
}
