import ts from 'typescript';

type WithBody = ts.FunctionLikeDeclaration & { body: ts.ConciseBody };
const hasBody = (node: ts.Node): node is WithBody => ts.isFunctionLike(node) && 'body' in node && node.body !== undefined;
const parsed = (file: string, text: string): ts.SourceFile => ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);

/** Name of the innermost function that holds a place of a file; of the module itself where none does. */
export function functionAt(file: string, text: string, at: number): string {
  const source = parsed(file, text);
  let name = `${file}:module`;
  const visit = (node: ts.Node): void => {
    if (at < node.getStart(source) || at >= node.getEnd()) return;
    if (hasBody(node) && at >= node.body.getStart(source)) name = `${file}:${node.body.getStart(source)}`;
    ts.forEachChild(node, visit);
  };
  visit(source);
  return name;
}

/** The same text, which notes each function that is entered in `globalThis.reached`. */
export function noting(file: string, text: string): string {
  const source = parsed(file, text);
  const put: { at: number; text: string }[] = [];
  const visit = (node: ts.Node): void => {
    if (hasBody(node)) {
      const start = node.body.getStart(source);
      const note = `globalThis.reached?.add(${JSON.stringify(`${file}:${start}`)})`;
      if (ts.isBlock(node.body)) put.push({ at: start + 1, text: `${note};` });
      else put.push({ at: start, text: `(${note},(` }, { at: node.body.getEnd(), text: '))' });
    }
    ts.forEachChild(node, visit);
  };
  visit(source);
  put.sort((a, b) => b.at - a.at);
  let out = text;
  for (const p of put) out = out.slice(0, p.at) + p.text + out.slice(p.at);
  return `${out}\n;globalThis.reached?.add(${JSON.stringify(`${file}:module`)});\n`;
}
