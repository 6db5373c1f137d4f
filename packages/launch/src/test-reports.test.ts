import { describe, expect, test } from 'vitest';
import { countOfPlaywright, countOfVitest } from './test-reports.js';

const passed = { status: 'passed', fullName: 'two holds', failureMessages: [] };
const red = {
  status: 'failed',
  fullName: 'one does not',
  failureMessages: ['\u001b[31mexpected 1\u001b[39m\n\nto be 2'],
};
const units = (assertionResults: readonly object[], message = ''): string =>
  JSON.stringify({
    numPassedTests: assertionResults.filter((one) => one === passed).length,
    numFailedTests: assertionResults.filter((one) => one === red).length,
    numPendingTests: 0,
    testResults: [{ name: '/src/a.test.ts', message, assertionResults }],
  });

const browser = (specs: readonly object[], errors: readonly object[] = []): string =>
  JSON.stringify({
    stats: { expected: 3, unexpected: specs.length, flaky: 0, skipped: 0 },
    suites: [{ specs: [], suites: [{ specs }] }],
    errors,
  });
const spec = (message: string): object => ({
  title: 'a row is there',
  file: 'rows.spec.ts',
  line: 7,
  ok: false,
  tests: [{ results: [{ errors: [{ message }] }] }],
});

describe('what came of unit tests', () => {
  test('names those that failed, with why', () => {
    expect(countOfVitest(units([passed, red]), 1)).toEqual({
      passed: 1,
      failed: 1,
      skipped: 0,
      failures: ['one does not\n  expected 1\n  to be 2'],
    });
  });

  test('a file that cannot be loaded has no tests to fail, and is told', () => {
    expect(countOfVitest(units([], 'no such module'), 1)).toMatchObject({
      failed: 1,
      failures: ['/src/a.test.ts\n  no such module'],
    });
  });

  test('a run that fails beside green tests is red', () => {
    expect(countOfVitest(units([passed]), 1)).toMatchObject({ passed: 1, failed: 1 });
    expect(countOfVitest(units([passed]), 0)).toMatchObject({ passed: 1, failed: 0 });
  });
});

describe('what came of tests in the browser', () => {
  test('names those that failed with file, line and why', () => {
    expect(countOfPlaywright(browser([spec('no row')]), 1)).toEqual({
      passed: 3,
      failed: 1,
      skipped: 0,
      failures: ['rows.spec.ts:7 › a row is there\n  no row'],
    });
  });

  test('a long reason is cut', () => {
    const long = Array.from({ length: 40 }, (_, i) => `line ${i}`).join('\n');
    const [told] = countOfPlaywright(browser([spec(long)]), 1).failures;
    expect(told!.split('\n')).toHaveLength(18);
    expect(told).toMatch(/line 15\n {2}…$/);
  });

  test('what goes wrong outside of every test is told too', () => {
    expect(countOfPlaywright(browser([], [{ message: 'no browser' }]), 1)).toMatchObject({
      failed: 1,
      failures: ['outside of every test\n  no browser'],
    });
  });
});
