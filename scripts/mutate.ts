/**
 * npm run mutate -- [count] [seed] : changes one thing at a time in couplings, joints, loads, kinematics, forces and motion (an operator, a sign, a number, a condition),
 * runs the tests of the computation, and says which changes none of them noticed. Works in the folder in which it stands, and puts every file back.
 */
import { spawnSync } from 'node:child_process';
import { readFileSync, readdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import ts from 'typescript';

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const ROOMS = ['couplings', 'joints', 'loads', 'kinematics', 'forces', 'motion'];
const count = Number(process.argv[2] ?? 300);
const seed = Number(process.argv[3] ?? 1);

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
      put(node, node.text === '0' ? '1' : node.text === '1' ? '2' : `(${node.text} * 1.5)`);
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
const sample = new Set<Mutant>();
while (sample.size < Math.min(count, all.length)) sample.add(all[Math.floor(next() * all.length)]);

/** Tests of the room first, then the laws over every kind, then all. */
function survives({ file }: Mutant): boolean {
  const room = file.split('/').slice(0, 2).join('/');
  const passes = (paths: string[]): boolean =>
    spawnSync(join(root, 'node_modules/.bin/vitest'), ['run', '--bail=1', '--reporter=dot', ...paths], {
      cwd: root,
      stdio: 'ignore',
      timeout: 240_000,
    }).status === 0;
  return passes([room]) && passes(['core/checks', 'core/sizing']) && passes(['core']);
}

say(`${sample.size} of ${all.length} mutants, seed ${seed}`);
const left: Mutant[] = [];
let done = 0;
for (const m of sample) {
  const path = join(root, m.file);
  const text = readFileSync(path, 'utf8');
  try {
    writeFileSync(path, text.slice(0, m.from) + m.is + text.slice(m.to));
    const lived = survives(m);
    if (lived) left.push(m);
    say(`${++done} ${lived ? 'SURVIVES' : 'killed'} ${m.file}:${m.line} ${m.was.slice(0, 40)} → ${m.is.slice(0, 40)}`);
  } finally {
    writeFileSync(path, text);
  }
}
say(`\n${done - left.length} of ${done} killed: ${((100 * (done - left.length)) / done).toFixed(1)} %`);
