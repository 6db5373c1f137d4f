import 'reflect-metadata';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import { ValidationPipe } from '@nestjs/common';
import { expect, test } from 'vitest';
import { EachIs } from './each-is.js';
import { Problem } from './problem.js';
import { requestProblem } from './request-words.js';

class Line {}

class Asked {}

/** Gives the members of a class their rules; tests are compiled without decorators. */
function rule(of: object, name: string, ...rules: readonly PropertyDecorator[]): void {
  for (const one of rules) one(of, name);
}

const isName = { message: 'Write a name in small letters.' };
const isPackage = { message: 'write a package name.' };
rule(Line.prototype, 'package', Matches(/^[a-z]+$/, isPackage));
rule(Line.prototype, 'kind', IsIn(['dev', 'peer']));
const eachText = IsString({ each: true });
rule(Line.prototype, 'projects', IsArray(), ArrayNotEmpty(), ArrayMaxSize(2), eachText);
rule(Asked.prototype, 'name', Matches(/^[a-z]+$/, isName));
rule(Asked.prototype, 'lastDay', IsString(), MaxLength(5));
rule(Asked.prototype, 'isOut', IsBoolean());
rule(Asked.prototype, 'number', IsInt(), Min(1), Max(9));
rule(
  Asked.prototype,
  'edits',
  EachIs(() => Line),
);

const GOOD = {
  name: 'log',
  lastDay: 'x',
  isOut: true,
  number: 3,
  edits: [{ package: 'log', kind: 'dev', projects: ['a'] }],
};
const EDIT = GOOD.edits[0]!;

const pipe = new ValidationPipe({
  transform: true,
  whitelist: true,
  forbidNonWhitelisted: true,
  exceptionFactory: requestProblem,
});

async function said(value: object): Promise<string> {
  try {
    await pipe.transform(value, { type: 'body', metatype: Asked });
    return 'taken';
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    return error.detail;
  }
}

test('what is right is taken', async () => {
  expect(await said(GOOD)).toBe('taken');
});

test.each<[object, string]>([
  [{ name: 'Log!' }, 'Write a name in small letters.'],
  [{ lastDay: 7 }, 'Last day: write text here.'],
  [{ lastDay: 'xxxxxx' }, 'Last day: write at most 5 letters.'],
  [{ isOut: 'perhaps' }, 'Is out: say true or false.'],
  [{ number: 0 }, 'Number: write a number of at least 1.'],
  [{ number: 12 }, 'Number: write a number of at most 9.'],
  [{ more: 1 }, 'More: nothing of this name is known here; leave it out.'],
  [{ more: 1, number: 12 }, 'Number: write a number of at most 9.'],
  [{ edits: [EDIT, { ...EDIT, package: 'Log!' }] }, 'Edit 2, package: write a package name.'],
  [{ edits: [{ ...EDIT, kind: 'dance' }] }, 'Edit 1, kind: choose one of dev, peer.'],
  [{ edits: [{ ...EDIT, projects: [] }] }, 'Edit 1, projects: name at least one.'],
  [{ edits: [{ ...EDIT, projects: ['a', 'b', 'c'] }] }, 'Edit 1, projects: name at most 2.'],
  [{ edits: [{ ...EDIT, projects: [1] }] }, 'Edit 1, projects: write text here.'],
  [{ edits: [[]] }, 'Edits: give an object.'],
])('%j: %s', async (wrong, sentence) => {
  expect(await said({ ...GOOD, ...wrong })).toBe(sentence);
});
