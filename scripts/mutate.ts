/**
 * npm run mutate -- [count] [seed] [part/parts] : changes one thing at a time in couplings, joints, loads, kinematics, forces and
 * motion (an operator, a sign, a number, a condition), runs the tests of the computation that reach the changed function, quick
 * ones first, and says which changes none of them noticed. No file is changed: the tests read the changed text. "2/3" tries the
 * second third of the sample. UNIROTA_REACHED names a folder with what the tests reach, filled where it is empty: several
 * processes may use one.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';
import { functionAt } from './mutate/functions';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const ROOMS = ['couplings', 'joints', 'loads', 'kinematics', 'forces', 'motion'];
const count = Number(process.argv[2] ?? 300);
const seed = Number(process.argv[3] ?? 1);
const [part, parts] = (process.argv[4] ?? '1/1').split('/').map(Number);

const say = (text: string): void => void process.stdout.write(`${text}\n`);

interface Mutant {
  file: string;
  line: number;
  from: number;
  to: number;
  was: string;
  is: string;
}

const SWAPS: Readonly<Record<string, string>> = {
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '&&': '||',
  '||': '&&',
  '+=': '-=',
  '-=': '+=',
};

function mutantsOf(file: string): Mutant[] {
  const text = readFileSync(join(root, file), 'utf8');
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const out: Mutant[] = [];
  const put = (node: ts.Node, is: string): void => {
    const from = node.getStart(source);
    const line = source.getLineAndCharacterOfPosition(from).line + 1;
    out.push({ file, line, from, to: node.getEnd(), was: text.slice(from, node.getEnd()), is });
  };
  const visit = (node: ts.Node): void => {
    // Types, imports and words that people read are not changed.
    if (ts.isTypeNode(node) || ts.isImportDeclaration(node) || ts.isInterfaceDeclaration(node) || ts.isTypeAliasDeclaration(node)) return;
    if (ts.isBinaryExpression(node)) {
      const swap = SWAPS[node.operatorToken.getText(source)];
      const words = [node.left, node.right].some((x) => ts.isStringLiteralLike(x) || ts.isTemplateExpression(x));
      if (swap && !(words && node.operatorToken.kind === ts.SyntaxKind.PlusToken)) put(node.operatorToken, swap);
    } else if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.MinusToken) {
      put(node, node.operand.getText(source));
    } else if (ts.isPrefixUnaryExpression(node) && node.operator === ts.SyntaxKind.ExclamationToken) {
      put(node, node.operand.getText(source));
    } else if (ts.isNumericLiteral(node)) {
      // A tolerance that is half as large again is no fault.
      const times = Number(node.text) < 1e-3 ? '1e5' : '1.5';
      put(node, node.text === '0' ? '1' : node.text === '1' ? '2' : `(${node.text} * ${times})`);
    } else if (node.kind === ts.SyntaxKind.TrueKeyword) put(node, 'false');
    else if (node.kind === ts.SyntaxKind.FalseKeyword) put(node, 'true');
    else if (ts.isPropertyAccessExpression(node) && node.getText(source) === 'Math.max') put(node, 'Math.min');
    else if (ts.isPropertyAccessExpression(node) && node.getText(source) === 'Math.min') put(node, 'Math.max');
    ts.forEachChild(node, visit);
  };
  visit(source);
  return out;
}

/** Park and Miller's generator: the same sample for the same seed. */
function sampler(from: number): () => number {
  let x = (from % 2_147_483_646) + 1;
  return () => (x = (x * 48_271) % 2_147_483_647) / 2_147_483_647;
}

function filesIn(dir: string): string[] {
  return readdirSync(join(root, dir), { withFileTypes: true }).flatMap((e) => {
    const path = `${dir}/${e.name}`;
    if (e.isDirectory()) return filesIn(path);
    return e.name.endsWith('.ts') && !e.name.endsWith('.spec.ts') ? [path] : [];
  });
}

const all = ROOMS.flatMap((room) => filesIn(`core/${room}`)).flatMap(mutantsOf);
const next = sampler(seed);
const chosen = new Set<Mutant>();
while (chosen.size < Math.min(count, all.length)) chosen.add(all[Math.floor(next() * all.length)]);
const sample = [...chosen].filter((_, k) => k % parts === part - 1);

const runs = (env: Record<string, string>, specs: readonly string[], timeout: number): boolean =>
  spawnSync(join(root, 'node_modules/.bin/vitest'), ['run', '--config', 'scripts/mutate/vitest.config.ts', '--reporter=dot', ...specs], {
    cwd: root,
    stdio: 'ignore',
    timeout,
    killSignal: 'SIGKILL',
    env: { ...process.env, ...env },
  }).status === 0;

/** What each spec reached of the unchanged text, and how long it took, ms. */
interface Reach {
  spec: string;
  took: number;
  reached: Set<string>;
}
function reaches(): Reach[] {
  const stated = process.env['UNIROTA_REACHED'];
  const folder = stated ?? mkdtempSync(join(tmpdir(), 'unirota-reach-'));
  try {
    const there = readdirSync(folder).length > 0;
    if (!there && !runs({ UNIROTA_REACH: folder }, [], 1_800_000)) throw new Error('the tests of the unchanged text fail');
    return readdirSync(folder).map((f) => {
      const r = JSON.parse(readFileSync(join(folder, f), 'utf8')) as { spec: string; took: number; reached: string[] };
      return { ...r, reached: new Set(r.reached) };
    });
  } finally {
    if (!stated) rmSync(folder, { recursive: true });
  }
}

say(`${sample.length} of ${all.length} mutants, seed ${seed}`);
const known = reaches().sort((a, b) => a.took - b.took);
const left: Mutant[] = [];
let done = 0;
for (const m of sample) {
  const place = functionAt(m.file, readFileSync(join(root, m.file), 'utf8'), m.from);
  const reaching = known.filter((r) => r.reached.has(place));
  const env = { UNIROTA_MUTANT: JSON.stringify(m), UNIROTA_ORDER: JSON.stringify(reaching.map((r) => r.spec)) };
  // What takes much longer than it did runs for ever.
  const timeout = Math.min(420_000, Math.round(60_000 + 3 * reaching.reduce((sum, r) => sum + r.took, 0)));
  const lived =
    !reaching.length ||
    runs(
      env,
      reaching.map((r) => r.spec),
      timeout,
    );
  if (lived) left.push(m);
  const how = lived ? (reaching.length ? 'SURVIVES' : 'UNREACHED') : 'killed';
  say(`${++done} ${how} ${m.file}:${m.line} ${m.was.slice(0, 40)} → ${m.is.slice(0, 40)}`);
}
say(`\n${done - left.length} of ${done} killed: ${((100 * (done - left.length)) / done).toFixed(1)} %`);
