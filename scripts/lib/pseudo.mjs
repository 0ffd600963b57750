// A language that nobody speaks: English with accents on every letter and a third longer. What is
// still plain on a page made with it was not said through the catalogue; what no longer fits would
// not fit in a longer language either.
import { existsSync, mkdirSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import ts from 'typescript';

const PLAIN = 'abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ';
const ACCENTED = 'áƀçđéƒĝĥíĵķļɱñóþɋŕšţúṽŵẋýžÁƁÇĐÉƑĜĤÍĴĶĻṀÑÓÞɊŔŠŢÚṼŴẊÝŽ';

const accented = (letter) => [...ACCENTED][PLAIN.indexOf(letter)] ?? letter;

/** Signs of a literal: an escape is one. */
const SIGN = /\\u[0-9a-fA-F]{4}|\\.|./gsu;

/** Every third letter stands twice. */
function pseudo(text) {
  let letters = 0;
  return (text.match(SIGN) ?? [])
    .map((sign) => {
      const changed = accented(sign);
      if (changed === sign) return sign;
      return ++letters % 3 === 0 ? changed + changed : changed;
    })
    .join('');
}

const COMPARISONS = new Set([
  ts.SyntaxKind.EqualsEqualsEqualsToken,
  ts.SyntaxKind.ExclamationEqualsEqualsToken,
]);

/** What reads as text in these nodes: not what is compared with, and no name of a property. */
function isText(node) {
  const { parent } = node;
  if (ts.isImportDeclaration(parent) || ts.isLiteralTypeNode(parent)) return false;
  if (ts.isPropertyAssignment(parent) && parent.name === node) return false;
  if (ts.isBinaryExpression(parent) && COMPARISONS.has(parent.operatorToken.kind)) return false;
  // A locale is none.
  return !(ts.isCallExpression(parent) && /\.toLocale/.test(parent.expression.getText()));
}

function texts(source) {
  const found = [];
  const visit = (node) => {
    if (ts.isStringLiteral(node) && isText(node)) found.push([node.getStart() + 1, node.end - 1]);
    else if (ts.isNoSubstitutionTemplateLiteral(node))
      found.push([node.getStart() + 1, node.end - 1]);
    else if (ts.isTemplateHead(node) || ts.isTemplateMiddle(node))
      found.push([node.getStart() + 1, node.end - 2]);
    else if (ts.isTemplateTail(node)) found.push([node.getStart() + 1, node.end - 1]);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

function pseudoFile(code) {
  const source = ts.createSourceFile('messages.ts', code, ts.ScriptTarget.Latest, true);
  let out = code;
  for (const [from, to] of texts(source).reverse())
    out = out.slice(0, from) + pseudo(out.slice(from, to)) + out.slice(to);
  return out;
}

const filesIn = (folder) =>
  readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory() ? filesIn(join(folder, entry.name)) : [join(folder, entry.name)],
  );

const INDEX = `import type { Messages } from '..';
import { pages } from './pages';
import { told } from './told';

const messages: Messages = { tag: 'en-x-pseudo', pages, told };

globalThis.frailSpindleMessages = messages;
`;

/**
 * Writes the catalogue `from` in the language that nobody speaks to the folder `to`; what stands
 * there as it should is left alone, for others may be reading it.
 */
export function writePseudo(from, to) {
  const wanted = new Map(
    filesIn(from).map((file) => [
      join(to, relative(from, file)),
      pseudoFile(readFileSync(file, 'utf8')),
    ]),
  );
  wanted.set(join(to, 'index.ts'), INDEX);
  for (const [file, code] of wanted) {
    if (existsSync(file) && readFileSync(file, 'utf8') === code) continue;
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(file, code);
  }
  for (const file of filesIn(to)) if (!wanted.has(file)) rmSync(file);
}
