// What can be said of source text without running it: lengths of functions, and files that import one another.
import { parseSync } from '@swc/core';

/** How many lines of a text are not blank. */
export const linesOf = (text) => text.split('\n').filter((line) => line.trim() !== '').length;

/** The lengths, in lines that are not blank, of all functions with a body of statements. */
export function functionLengths(text) {
  const bytes = Buffer.from(text);
  const module = parseSync(text, { syntax: 'typescript', target: 'es2022' });
  const lengths = [];
  const walk = (node) => {
    if (Array.isArray(node)) return node.forEach(walk);
    if (node === null || typeof node !== 'object') return;
    const isFunction =
      /^(?:FunctionDeclaration|FunctionExpression|ArrowFunctionExpression|ClassMethod|PrivateMethod|Constructor|MethodProperty)$/.test(
        node.type,
      );
    const body = node.body ?? node.function?.body;
    if (isFunction && /^(?:BlockStatement|FunctionBody)$/.test(body?.type ?? '') && node.span)
      lengths.push(
        linesOf(bytes.subarray(node.span.start - module.span.start, node.span.end - module.span.start).toString()),
      );
    for (const [key, value] of Object.entries(node)) if (key !== 'span') walk(value);
  };
  walk(module.body);
  return lengths;
}

/**
 * Files that can reach one another (Tarjan's strongly connected components), of two or more.
 * @param imports - the files that each file imports, by their paths
 */
export function circlesOf(imports) {
  let next = 0;
  const [index, low, stack, found] = [new Map(), new Map(), [], []];
  const visit = (file) => {
    index.set(file, next);
    low.set(file, next++);
    stack.push(file);
    for (const target of imports.get(file) ?? []) {
      if (!index.has(target)) visit(target);
      if (stack.includes(target)) low.set(file, Math.min(low.get(file), low.get(target)));
    }
    if (low.get(file) !== index.get(file)) return;
    const circle = stack.splice(stack.indexOf(file));
    if (circle.length > 1) found.push(circle);
  };
  for (const file of imports.keys()) if (!index.has(file)) visit(file);
  return found;
}
