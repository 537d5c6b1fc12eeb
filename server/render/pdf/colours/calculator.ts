import { Unreadable } from '../../facts.ts';

/** A calculation on a stack, as functions of PDFs may have one: numbers, operators, and procedures of their own. */
export type Procedure = readonly (number | string | Procedure)[];

const MOST_STEPS = 10_000;
const RAD = Math.PI / 180;
const WORD = /[{}]|[^\s{}]+/g;

/** @throws Unreadable where brackets do not match */
export function parseProcedure(text: string): Procedure {
  const words = text.replace(/%[^\r\n]*/g, ' ').match(WORD) ?? [];
  const open: (number | string | Procedure)[][] = [[]];
  for (const word of words) {
    const inner = open[open.length - 1];
    if (word === '{') open.push([]);
    else if (word === '}') {
      const done = open.pop();
      if (!done || open.length === 0) throw damaged();
      open[open.length - 1]?.push(done);
    } else {
      const number = Number(word);
      inner?.push(Number.isFinite(number) ? number : word);
    }
  }
  const [whole] = open;
  const [body] = whole ?? [];
  if (open.length !== 1 || !Array.isArray(body)) throw damaged();
  return body as Procedure;
}

type Binary = (a: number, b: number) => number;
type Unary = (a: number) => number;
const yes = (is: boolean): number => (is ? 1 : 0);

/** Truth is 1 and 0 here; operators on bits treat it the same way. */
const BINARY: Readonly<Record<string, Binary>> = {
  add: (a, b) => a + b,
  sub: (a, b) => a - b,
  mul: (a, b) => a * b,
  div: (a, b) => (b === 0 ? 0 : a / b),
  idiv: (a, b) => (b === 0 ? 0 : Math.trunc(a / b)),
  mod: (a, b) => (b === 0 ? 0 : a % b),
  exp: (a, b) => a ** b,
  atan: (a, b) => (Math.atan2(a, b) / RAD + 360) % 360,
  eq: (a, b) => yes(a === b),
  ne: (a, b) => yes(a !== b),
  gt: (a, b) => yes(a > b),
  ge: (a, b) => yes(a >= b),
  lt: (a, b) => yes(a < b),
  le: (a, b) => yes(a <= b),
  and: (a, b) => a & b,
  or: (a, b) => a | b,
  xor: (a, b) => a ^ b,
  bitshift: (a, b) => (b >= 0 ? a << b : a >> -b),
};

const UNARY: Readonly<Record<string, Unary>> = {
  abs: Math.abs,
  neg: (a) => -a,
  ceiling: Math.ceil,
  floor: Math.floor,
  round: (a) => Math.floor(a + 0.5),
  truncate: Math.trunc,
  cvi: Math.trunc,
  cvr: (a) => a,
  sqrt: (a) => Math.sqrt(Math.max(0, a)),
  sin: (a) => Math.sin(a * RAD),
  cos: (a) => Math.cos(a * RAD),
  ln: (a) => Math.log(Math.max(Number.MIN_VALUE, a)),
  log: (a) => Math.log10(Math.max(Number.MIN_VALUE, a)),
  not: (a) => (a === 0 ? 1 : a === 1 ? 0 : ~a),
};

/**
 * The stack after a calculation. Source: ISO 32000-1, 7.10.5.
 * @throws Unreadable where it takes more than is there, does what such functions can't, or does not come to an end
 */
export function runProcedure(procedure: Procedure, inputs: readonly number[]): number[] {
  const stack = [...inputs];
  let steps = 0;
  const pop = (): number => {
    const value = stack.pop();
    if (value === undefined) throw damaged();
    return value;
  };
  const run = (words: Procedure): void => {
    words.forEach((word, i) => {
      steps += 1;
      if (steps > MOST_STEPS) throw damaged();
      if (typeof word === 'number') stack.push(word);
      else if (typeof word === 'string') operate(word, words, i);
    });
  };
  const operate = (word: string, words: Procedure, i: number): void => {
    const binary = BINARY[word];
    const unary = UNARY[word];
    if (binary) {
      const b = pop();
      stack.push(binary(pop(), b));
    } else if (unary) stack.push(unary(pop()));
    else if (word === 'true') stack.push(1);
    else if (word === 'false') stack.push(0);
    else if (word === 'if') {
      const then = procedureAt(words, i - 1);
      if (pop() !== 0) run(then);
    } else if (word === 'ifelse') {
      const [then, otherwise] = [procedureAt(words, i - 2), procedureAt(words, i - 1)];
      run(pop() !== 0 ? then : otherwise);
    } else move(word);
  };
  const move = (word: string): void => {
    switch (word) {
      case 'pop':
        pop();
        return;
      case 'exch': {
        const [b, a] = [pop(), pop()];
        stack.push(b, a);
        return;
      }
      case 'dup':
        stack.push(deep(0));
        return;
      case 'copy': {
        const n = pop();
        if (n < 0 || n > stack.length) throw damaged();
        stack.push(...stack.slice(stack.length - n));
        return;
      }
      case 'index':
        stack.push(deep(pop()));
        return;
      case 'roll': {
        const by = pop();
        const n = pop();
        if (n < 0 || n > stack.length) throw damaged();
        const part = stack.splice(stack.length - n);
        const cut = n === 0 ? 0 : ((-by % n) + n) % n;
        stack.push(...part.slice(cut), ...part.slice(0, cut));
        return;
      }
      default:
        throw damaged();
    }
  };
  const deep = (n: number): number => {
    const value = stack[stack.length - 1 - n];
    if (value === undefined) throw damaged();
    return value;
  };
  run(procedure);
  return stack;
}

function procedureAt(words: Procedure, i: number): Procedure {
  const word = words[i];
  if (typeof word !== 'object') throw damaged();
  return word;
}

function damaged(): Unreadable {
  return new Unreadable('A colour of the artwork is described by a damaged calculation.');
}
