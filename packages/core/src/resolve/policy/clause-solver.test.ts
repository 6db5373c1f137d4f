import fc from 'fast-check';
import { expect, test } from 'vitest';
import { ClauseSolver, isFalse, isTrue, type Literal } from './clause-solver.js';

const VARIABLES = 6;

const anyClause = fc.uniqueArray(
  fc.tuple(fc.integer({ min: 0, max: VARIABLES - 1 }), fc.boolean()),
  { selector: ([variable]) => variable, minLength: 1, maxLength: 3 },
);

const anyProblem = fc.record({
  clauses: fc.array(anyClause, { maxLength: 24 }),
  /** Of the first variables; the last may be their guard. */
  group: fc.uniqueArray(fc.integer({ min: 0, max: VARIABLES - 2 }), { maxLength: 3 }),
  isGuarded: fc.boolean(),
  assumptions: fc.uniqueArray(fc.tuple(fc.integer({ min: 0, max: VARIABLES - 1 }), fc.boolean()), {
    selector: ([variable]) => variable,
    maxLength: 3,
  }),
});

type Sign = readonly [variable: number, isPositive: boolean];

function literalOf([variable, isPositive]: Sign): Literal {
  return isPositive ? isTrue(variable) : isFalse(variable);
}

function hasModel(
  clauses: readonly (readonly Sign[])[],
  group: readonly number[],
  guard: number | null,
  assumptions: readonly Sign[],
): boolean {
  for (let mask = 0; mask < 1 << VARIABLES; mask++) {
    const holds = ([variable, isPositive]: Sign): boolean =>
      ((mask >> variable) & 1) === Number(isPositive);
    const isAlone =
      (guard !== null && !holds([guard, true])) ||
      group.filter((variable) => holds([variable, true])).length <= 1;
    if (isAlone && clauses.every((clause) => clause.some(holds)) && assumptions.every(holds))
      return true;
  }
  return false;
}

test('finds a model exactly where one exists, and blames assumptions that clash by themselves', () => {
  fc.assert(
    fc.property(anyProblem, ({ clauses, group, isGuarded, assumptions }) => {
      const guard = isGuarded ? VARIABLES - 1 : null;
      const solver = new ClauseSolver();
      for (let i = 0; i < VARIABLES; i++) solver.newVariable();
      solver.addAtMostOne(group, guard);
      for (const clause of clauses) solver.addClause(clause.map(literalOf));
      const isOpen = (variable: number): boolean =>
        !solver.holds(isTrue(variable)) && !solver.fails(isTrue(variable));
      const decide = (): Literal | null => {
        for (let i = 0; i < VARIABLES; i++) if (isOpen(i)) return isTrue(i);
        return null;
      };
      // Twice, since what was learned must stay true.
      for (let round = 0; round < 2; round++) {
        const outcome = solver.solve(assumptions.map(literalOf), decide);
        expect(outcome.kind).toBe(hasModel(clauses, group, guard, assumptions) ? 'found' : 'clash');
        if (outcome.kind === 'found') {
          const holds = (sign: Sign): boolean => solver.holds(literalOf(sign));
          expect(clauses.every((clause) => clause.some(holds))).toBe(true);
          expect(assumptions.every(holds)).toBe(true);
          if (guard === null || solver.holds(isTrue(guard)))
            expect(group.filter((one) => solver.holds(isTrue(one))).length).toBeLessThan(2);
        } else {
          const blamed = assumptions.filter((one) => outcome.assumptions.includes(literalOf(one)));
          expect(blamed.length).toBe(outcome.assumptions.length);
          expect(hasModel(clauses, group, guard, blamed)).toBe(false);
        }
      }
    }),
  );
});
