import { SaxesParser } from 'saxes';
import { CannotRead } from './refused';

/** An element of an XML file. */
export interface XmlNode {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: XmlNode[];
}

const DEEPEST = 200;
const MOST_NODES = 200_000;

/** The tree of a small XML file, without texts. No entities beyond the five of XML. Throws `CannotRead`. */
export function xmlTree(text: string): XmlNode {
  const parser = new SaxesParser({ xmlns: false });
  let root: XmlNode | undefined;
  const open: XmlNode[] = [];
  let count = 0;
  parser.on('doctype', () => {
    throw new CannotRead('The file declares entities, which are not taken in.');
  });
  parser.on('error', () => {
    throw new CannotRead('The file is damaged: it is no XML.');
  });
  parser.on('opentag', ({ name, attributes }) => {
    if (++count > MOST_NODES || open.length > DEEPEST) throw new CannotRead('The file has too many elements, or is nested too deep.');
    const node: XmlNode = { name, attributes, children: [] };
    if (open.length) open.at(-1)!.children.push(node);
    else root ??= node;
    open.push(node);
  });
  parser.on('closetag', () => void open.pop());
  parser.write(text).close();
  if (!root) throw new CannotRead('The file is empty.');
  return root;
}

export const childrenOf = (n: XmlNode, name: string): XmlNode[] => n.children.filter((c) => c.name === name);
export const childOf = (n: XmlNode, name: string): XmlNode | undefined => n.children.find((c) => c.name === name);

/** Numbers in an attribute; undefined where it is not there. Throws `CannotRead` where they are none, or not so many. */
export function numbersIn(n: XmlNode | undefined, key: string, count?: number): number[] | undefined {
  const text = n?.attributes[key];
  if (text === undefined) return undefined;
  const v = text.trim().split(/\s+/).map(Number);
  if (v.some((x) => !Number.isFinite(x)) || (count !== undefined && v.length !== count)) {
    throw new CannotRead(`The file is damaged: ${key}="${text.slice(0, 40)}" is not ${count === undefined ? 'numbers' : `${count} numbers`}.`);
  }
  return v;
}
export const numberIn = (n: XmlNode | undefined, key: string): number | undefined => numbersIn(n, key, 1)?.[0];
