/**
 * Makes small changes in the source, one at a time, and runs the tests of the changed folder: a change that no test
 * notices shows what is not asserted. Works in copies under `.cache/mutate`, one for each worker; the same seed makes the
 * same changes. A folder with folders in it is changed as a whole.
 *
 *   npm run mutate -- [folder ...] [--each 20] [--seed 1] [--workers 2]
 */
import { spawn } from 'node:child_process';
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { parseArgs } from 'node:util';

import ts from 'typescript';

const { values: options, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    each: { type: 'string', default: '20' },
    seed: { type: 'string', default: '1' },
    workers: { type: 'string', default: '2' },
  },
});
const FOLDERS = ['check', 'grade', 'chain', 'overlay', 'sheet', 'mistake', 'plan'].map((name) => `core/${name}`);
const folders = positionals.length > 0 ? positionals : FOLDERS;
const copies = Array.from({ length: Number(options.workers) }, (_, i) => path.resolve('.cache/mutate', String(i)));
/** A change that makes tests run so many times longer, as one that never ends does, is noticed. */
const LONGER = 4;
const DURATIONS = '.cache/mutate/durations.json';
const QUICK_FIRST = ['--config', 'vitest.mutate.config.ts'];

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

/** What stands for an entry that is always there, `list[i] ?? 0`: a change of it changes nothing. */
const isNeverTaken = (node) =>
  node.parent !== undefined &&
  ts.isBinaryExpression(node.parent) &&
  node.parent.right === node &&
  node.parent.operatorToken.kind === ts.SyntaxKind.QuestionQuestionToken &&
  ts.isElementAccessExpression(node.parent.left);

/** The changes that a node of the syntax allows: where, and the text in its place. */
function changesOf(node, source) {
  if (isNeverTaken(node)) return [];
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

/** Of the copy, so that the sources may be worked on meanwhile. */
const mutantsIn = (copy) => (file) => {
  const text = readFileSync(path.join(copy, file), 'utf8');
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
};

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

/**
 * Runs the tests of a folder in a copy; one worker at a time, so that copies run side by side. What takes longer than
 * `timeoutMs` is ended with all that it started: a test that never ends is in a process of its own.
 */
const passes = (folder, copy, { timeoutMs = Infinity, options = [] }) =>
  new Promise((resolve) => {
    const command = ['--no-install', 'vitest', 'run', folder, '--bail', '1', '--maxWorkers', '1', ...options];
    const tests = spawn('npx', command, {
      cwd: copy,
      env: { ...process.env, ZORVET_DURATIONS: path.resolve(DURATIONS) },
      detached: true,
      stdio: 'ignore',
    });
    running.add(tests);
    const late = timeoutMs === Infinity ? undefined : setTimeout(() => end(tests), timeoutMs);
    tests.once('exit', (code) => {
      clearTimeout(late);
      running.delete(tests);
      resolve(code === 0);
    });
  });

const running = new Set();
const end = ({ pid }) => {
  try {
    process.kill(-pid, 'SIGKILL');
  } catch {
    // It ended by itself meanwhile.
  }
};
for (const signal of ['SIGINT', 'SIGTERM'])
  process.once(signal, () => {
    running.forEach(end);
    process.exit(1);
  });

const COPIED = [
  ...['api', 'cli', 'core', 'demo', 'docs', 'print', 'runtime', 'server', 'web'],
  ...['package.json', 'vitest.config.ts', 'vitest.mutate.config.ts', 'tsconfig.base.json', 'tsconfig.core.json'],
  ...['tsconfig.json', 'tsconfig.node.json', 'tsconfig.web.json'],
];
rmSync('.cache/mutate', { recursive: true, force: true });
for (const copy of copies) {
  mkdirSync(copy, { recursive: true });
  for (const name of COPIED) cpSync(name, path.join(copy, name), { recursive: true });
  symlinkSync(path.resolve('node_modules'), path.join(copy, 'node_modules'));
}

/** Passes or throws; keeps how long each test file took, so that the quick ones run first. */
async function timeTests(folder, copy) {
  const report = path.join(copy, 'report.json');
  if (!(await passes(folder, copy, { options: ['--reporter', 'json', '--outputFile', report] })))
    throw new Error(`the tests of ${folder} do not pass as they are`);
  const { testResults } = JSON.parse(readFileSync(report, 'utf8'));
  const entries = testResults.map((file) => [path.relative(copy, file.name), file.endTime - file.startTime]);
  writeFileSync(DURATIONS, JSON.stringify(Object.fromEntries(entries)));
}

const rows = [];
for (const folder of folders) {
  const startMs = Date.now();
  await timeTests(folder, copies[0]);
  // Beside other copies they take longer than alone.
  const timeoutMs = LONGER * copies.length * (Date.now() - startMs);
  const next = numbersFrom(Number(options.seed));
  const chosen = chosenFrom(sourcesOf(folder).flatMap(mutantsIn(copies[0])), Number(options.each), next);
  const waiting = [...chosen];
  let noticed = 0;
  const work = async (copy) => {
    for (let mutant = waiting.shift(); mutant !== undefined; mutant = waiting.shift()) {
      const { file, line, start, end, was, text } = mutant;
      const original = readFileSync(path.join(copy, file), 'utf8');
      writeFileSync(path.join(copy, file), original.slice(0, start) + text + original.slice(end));
      if (await passes(folder, copy, { timeoutMs, options: QUICK_FIRST }))
        console.log(`not noticed: ${file}:${line}  ${was} -> ${text}`);
      else noticed++;
      writeFileSync(path.join(copy, file), original);
    }
  };
  await Promise.all(copies.map(work));
  rows.push({ folder, changes: chosen.length, noticed });
  console.log(`${folder}: ${String(noticed)} of ${String(chosen.length)} noticed`);
}

console.log('\nfolder           changes  noticed  share');
for (const { folder, changes, noticed } of rows)
  console.log(
    `${folder.padEnd(16)} ${String(changes).padStart(7)}  ${String(noticed).padStart(7)}  ${((100 * noticed) / Math.max(1, changes)).toFixed(0).padStart(3)} %`,
  );
