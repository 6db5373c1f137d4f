import { HttpStatus } from '@nestjs/common';
import type { ValidationError } from 'class-validator';
import { Problem } from './problem.js';

/** What is asked for, by the rule that a value breaks; a number or a list is taken from the rule's own message. */
const WORDS: Readonly<Record<string, (given: string) => string>> = {
  isString: () => 'write text here',
  isNotEmpty: () => 'this is missing',
  isBoolean: () => 'say true or false',
  isInt: () => 'write a whole number',
  isNumber: () => 'write a number',
  isArray: () => 'give a list',
  isUuid: () => 'this is no id',
  isObject: () => 'give an object',
  arrayNotEmpty: () => 'name at least one',
  arrayMinSize: (given) => `name at least ${given}`,
  arrayMaxSize: (given) => `name at most ${given}`,
  arrayUnique: () => 'name nothing twice',
  maxLength: (given) => `write at most ${given} letters`,
  minLength: (given) => `write at least ${given} letters`,
  min: (given) => `write a number of at least ${given}`,
  max: (given) => `write a number of at most ${given}`,
  isIn: (given) => `choose one of ${given}`,
  isEnum: (given) => `choose one of ${given}`,
  equals: (given) => `this can only be ${given}`,
  nestedValidation: () => 'give an object for each entry',
  whitelistValidation: () => 'nothing of this name is known here; leave it out',
};

/** The messages that the rules bring with them, where a class has no words of its own for a value. */
const RULES_OWN = /^(each value in |property |nested property )?\S+ (must|should)\b/;

/** A request that cannot be taken, each value that is wrong with its place and what is asked for. */
export function requestProblem(errors: readonly ValidationError[]): Problem {
  const all = errors.flatMap((error) => sentencesOf(error, []));
  // A fault of a value that is known says more than values that are not known.
  const known = all.filter(({ rule }) => rule !== 'whitelistValidation');
  const shown = known.length > 0 ? known : all;
  const sentences = [...new Set(shown.map(({ says }) => says))];
  return new Problem(
    'REQUEST_INVALID',
    HttpStatus.BAD_REQUEST,
    'This cannot be taken',
    sentences.join(' '),
  );
}

interface Sentence {
  readonly rule: string;
  readonly says: string;
}

function sentencesOf(error: ValidationError, above: readonly string[]): readonly Sentence[] {
  const path = [...above, error.property];
  const own = Object.entries(error.constraints ?? {}).map(([rule, message]) => ({
    rule,
    says: sentence(path, rule, message),
  }));
  // An object that is none, and an empty one, break all rules at once; the first says enough.
  const first = own.slice(0, 1);
  return [...first, ...(error.children ?? []).flatMap((child) => sentencesOf(child, path))];
}

function sentence(path: readonly string[], rule: string, message: string): string {
  const place = placeWords(path);
  if (!RULES_OWN.test(message)) return path.length === 1 ? message : `${place}: ${message}`;
  const [given = ''] = /(?<=: ).*$|\d+/.exec(message) ?? [];
  const words = WORDS[rule]?.(given) ?? 'this is not what is asked for here';
  return `${place}: ${words}.`;
}

/** A path as people say it: `edits.0.package` is *Edit 1, package*. */
function placeWords(path: readonly string[]): string {
  const parts: string[] = [];
  for (const part of path) {
    const last = parts.at(-1);
    if (/^\d+$/.test(part) && last !== undefined)
      parts[parts.length - 1] = `${singular(last)} ${Number(part) + 1}`;
    else parts.push(part.replace(/[A-Z]/g, (letter) => ` ${letter.toLowerCase()}`));
  }
  const text = parts.join(', ');
  return text.slice(0, 1).toUpperCase() + text.slice(1);
}

function singular(word: string): string {
  if (word.endsWith('ies')) return `${word.slice(0, -3)}y`;
  return word.endsWith('s') ? word.slice(0, -1) : word;
}
