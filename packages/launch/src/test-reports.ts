import { stripVTControlCharacters } from 'node:util';

/** What came of the tests of one step. */
export interface Count {
  readonly passed: number;
  readonly failed: number;
  readonly skipped: number;
  /** Those that failed, as far as they have names, each with why below it. */
  readonly failures: readonly string[];
}

/** Lines of a reason that are told at the end; the whole stands with its step. */
const MOST_LINES = 16;

interface VitestReport {
  readonly numPassedTests: number;
  readonly numFailedTests: number;
  readonly numPendingTests: number;
  readonly testResults: readonly {
    readonly name: string;
    /** Why the file could not be loaded. */
    readonly message: string;
    readonly assertionResults: readonly {
      readonly status: string;
      readonly fullName: string;
      readonly failureMessages: readonly string[] | null;
    }[];
  }[];
}

/** Reads the JSON report of Vitest. @param exitCode of the run: it can fail where no test does */
export function countOfVitest(report: string, exitCode: number | undefined): Count {
  const { numPassedTests, numFailedTests, numPendingTests, testResults } = JSON.parse(
    report,
  ) as VitestReport;
  const failures = testResults.flatMap(({ name, message, assertionResults }) => [
    ...(message === '' ? [] : [failure(name, [message])]),
    ...assertionResults.flatMap(({ status, fullName, failureMessages }) =>
      status === 'failed' ? [failure(fullName, failureMessages ?? [])] : [],
    ),
  ]);
  const failed = exitCode === 0 ? numFailedTests : Math.max(1, numFailedTests);
  return { passed: numPassedTests, failed, skipped: numPendingTests, failures };
}

interface PlaywrightSuite {
  readonly suites?: readonly PlaywrightSuite[];
  readonly specs?: readonly {
    readonly title: string;
    readonly file: string;
    readonly line: number;
    readonly ok: boolean;
    readonly tests: readonly {
      readonly results: readonly { readonly errors: readonly { readonly message?: string }[] }[];
    }[];
  }[];
}

interface PlaywrightReport {
  readonly stats: {
    readonly expected: number;
    readonly unexpected: number;
    readonly flaky: number;
    readonly skipped: number;
  };
  readonly suites: readonly PlaywrightSuite[];
  /** Of no test in particular. */
  readonly errors: readonly { readonly message?: string }[];
}

/** Reads the JSON report of Playwright. @param exitCode of the run: it can fail where no test does */
export function countOfPlaywright(report: string, exitCode: number | undefined): Count {
  const { stats, suites, errors } = JSON.parse(report) as PlaywrightReport;
  const failures = [
    ...suites.flatMap(failuresIn),
    ...errors.map(({ message = '' }) => failure('outside of every test', [message])),
  ];
  const failed = stats.unexpected + stats.flaky;
  return {
    passed: stats.expected,
    failed: exitCode === 0 ? failed : Math.max(1, failed),
    skipped: stats.skipped,
    failures,
  };
}

function failuresIn({ suites = [], specs = [] }: PlaywrightSuite): readonly string[] {
  return [
    ...specs.flatMap(({ ok, title, file, line, tests }) => {
      if (ok) return [];
      const results = tests.flatMap(({ results }) => results);
      const messages = results.flatMap(({ errors }) => errors.map(({ message = '' }) => message));
      return [failure(`${file}:${line} › ${title}`, messages)];
    }),
    ...suites.flatMap(failuresIn),
  ];
}

function failure(name: string, messages: readonly string[]): string {
  const lines = stripVTControlCharacters(messages.join('\n'))
    .split('\n')
    .filter((line) => line.trim() !== '');
  const told = lines.slice(0, MOST_LINES);
  if (told.length < lines.length) told.push('…');
  return [name, ...told.map((line) => `  ${line}`)].join('\n');
}
