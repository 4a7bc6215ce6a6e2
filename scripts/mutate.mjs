/**
 * Makes small changes in the source, one at a time, and runs the tests of the changed folder: a change that no test
 * notices shows what is not asserted. Works in a copy, `.cache/mutate`; the same seed makes the same changes.
 *
 *   npm run mutate -- [folder ...] [--each 20] [--seed 1]
 */
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';

import ts from 'typescript';

const { values: options, positionals } = parseArgs({
  allowPositionals: true,
  options: { each: { type: 'string', default: '20' }, seed: { type: 'string', default: '1' } },
});
const FOLDERS = ['check', 'grade', 'chain', 'overlay', 'sheet', 'mistake', 'plan'].map((name) => `core/${name}`);
const folders = positionals.length > 0 ? positionals : FOLDERS;
const copy = path.resolve('.cache/mutate');
const LIMIT_MS = 600_000;

/** Numbers from 0 to 1 that are the same for the same seed (a linear congruential generator). */
function numbersFrom(seed) {
  let state = seed >>> 0;
  return () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
}

const OPERATORS = {
  '<': '<=',
  '<=': '<',
  '>': '>=',
  '>=': '>',
  '===': '!==',
  '!==': '===',
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
  '&&': '||',
  '||': '&&',
};
const FUNCTIONS = { min: 'max', max: 'min', sin: 'cos', cos: 'sin', some: 'every', every: 'some', floor: 'ceil' };

/** Texts of a sum are joined, not added. */
const isText = (node) => ts.isStringLiteralLike(node) || ts.isTemplateExpression(node);

/** The changes that a node of the syntax allows: where, and the text in its place. */
function changesOf(node, source) {
  const at = (part, text) => ({ start: part.getStart(source), end: part.getEnd(), text });
  if (ts.isBinaryExpression(node)) {
    const operator = node.operatorToken.getText(source);
    const other = OPERATORS[operator];
    const joins = operator === '+' && (isText(node.left) || isText(node.right));
    return other === undefined || joins ? [] : [at(node.operatorToken, other)];
  }
  if (ts.isPrefixUnaryExpression(node) && ['!', '-'].includes(node.getText(source)[0]))
    return [at(node, node.operand.getText(source))];
  if (ts.isConditionalExpression(node)) return [at(node.condition, `!(${node.condition.getText(source)})`)];
  if (ts.isNumericLiteral(node)) return [at(node, node.text === '0' ? '1' : `(${node.getText(source)} * 10)`)];
  if (node.kind === ts.SyntaxKind.TrueKeyword) return [at(node, 'false')];
  if (node.kind === ts.SyntaxKind.FalseKeyword) return [at(node, 'true')];
  if (ts.isPropertyAccessExpression(node) && node.parent && ts.isCallExpression(node.parent)) {
    const other = FUNCTIONS[node.name.text];
    return other === undefined ? [] : [at(node.name, other)];
  }
  return [];
}

function mutantsOf(file) {
  const text = readFileSync(file, 'utf8');
  const source = ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true);
  const found = [];
  const walk = (node) => {
    if (ts.isImportDeclaration(node) || ts.isTypeNode(node) || ts.isInterfaceDeclaration(node)) return;
    for (const change of changesOf(node, source)) {
      const line = source.getLineAndCharacterOfPosition(change.start).line + 1;
      found.push({ file, line, was: text.slice(change.start, change.end), ...change });
    }
    ts.forEachChild(node, walk);
  };
  walk(source);
  return found;
}

const sourcesOf = (folder) =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.ts') && !/\.test\.ts$|(^|\/)testing\.ts$/.test(name))
    .map((name) => path.join(folder, name))
    .sort();

function chosenFrom(list, count, next) {
  const rest = [...list];
  return Array.from(
    { length: Math.min(count, rest.length) },
    () => rest.splice(Math.floor(next() * rest.length), 1)[0],
  );
}

const passes = (folder) =>
  spawnSync('npx', ['--no-install', 'vitest', 'run', folder, '--bail', '1'], {
    cwd: copy,
    timeout: LIMIT_MS,
    stdio: 'ignore',
  }).status === 0;

rmSync(copy, { recursive: true, force: true });
mkdirSync(copy, { recursive: true });
for (const name of [
  'api',
  'core',
  'demo',
  'docs',
  'print',
  'runtime',
  'server',
  'web',
  'package.json',
  'vitest.config.ts',
])
  cpSync(name, path.join(copy, name), { recursive: true });
for (const name of [
  'tsconfig.base.json',
  'tsconfig.core.json',
  'tsconfig.json',
  'tsconfig.node.json',
  'tsconfig.web.json',
])
  cpSync(name, path.join(copy, name));
symlinkSync(path.resolve('node_modules'), path.join(copy, 'node_modules'));

const survivors = [];
console.log('folder           changes  noticed  share');
for (const folder of folders) {
  if (!passes(folder)) throw new Error(`the tests of ${folder} do not pass as they are`);
  const next = numbersFrom(Number(options.seed));
  const chosen = chosenFrom(sourcesOf(folder).flatMap(mutantsOf), Number(options.each), next);
  let noticed = 0;
  for (const { file, line, start, end, was, text } of chosen) {
    const original = readFileSync(file, 'utf8');
    writeFileSync(path.join(copy, file), original.slice(0, start) + text + original.slice(end));
    if (passes(folder)) survivors.push(`${file}:${line}  ${was} -> ${text}`);
    else noticed++;
    writeFileSync(path.join(copy, file), original);
  }
  const share = `${((100 * noticed) / Math.max(1, chosen.length)).toFixed(0)} %`;
  console.log(
    `${folder.padEnd(16)} ${String(chosen.length).padStart(7)}  ${String(noticed).padStart(7)}  ${share.padStart(5)}`,
  );
}
console.log(survivors.length === 0 ? '\nEvery change was noticed.' : `\nNot noticed:\n${survivors.join('\n')}`);
