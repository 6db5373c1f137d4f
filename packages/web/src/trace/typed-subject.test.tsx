import { fireEvent, render, screen } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { ProjectName } from '../api/client';
import { TraceControls } from './TraceControls';
import { WhatIfForm } from './WhatIfForm';

const PROJECTS: readonly ProjectName[] = [{ folder: 'services/roster', name: 'roster' }];
const nothing = (): void => undefined;

test('what is typed into the what-if form holds when the projects arrive, and ends with its subject', () => {
  const form = (subject: string, projects: readonly ProjectName[], initialProject: string) => (
    <WhatIfForm
      subject={subject}
      projects={projects}
      initialProject={initialProject}
      initialPackage=""
      onTry={nothing}
    />
  );
  const { rerender } = render(form('services/roster', [], ''));
  const field = screen.getByLabelText<HTMLInputElement>('Package');
  fireEvent.change(field, { target: { value: 'glacis-router' } });
  rerender(form('services/roster', PROJECTS, 'services/roster'));
  expect(field.value).toBe('glacis-router');
  expect(screen.getByLabelText<HTMLSelectElement>('What if').value).toBe('services/roster');
  rerender(form('apps/pass-office', PROJECTS, 'services/roster'));
  expect(field.value).toBe('');
});

test('what is typed as the subject of a trace holds when the projects arrive', () => {
  const controls = (projects: readonly ProjectName[]) => (
    <TraceControls
      view={{ project: 'services/roster' }}
      direction="down"
      projects={projects}
      packages={[]}
      targets={[]}
      versions={[]}
      onChange={nothing}
    />
  );
  const { rerender } = render(controls([]));
  const field = screen.getByLabelText<HTMLInputElement>('Trace a package or a project');
  fireEvent.change(field, { target: { value: 'scree' } });
  rerender(controls(PROJECTS));
  expect(field.isConnected).toBe(true);
  expect(field.value).toBe('scree');
});

test('a subject that nothing is called is told, until another is typed', () => {
  render(
    <TraceControls
      view={{}}
      direction="down"
      projects={PROJECTS}
      packages={['scree-log']}
      targets={[]}
      versions={[]}
      onChange={nothing}
    />,
  );
  const field = screen.getByLabelText<HTMLInputElement>('Trace a package or a project');
  fireEvent.change(field, { target: { value: 'moss' } });
  fireEvent.submit(field);
  expect(screen.getByText(/has “moss” in its name/)).toBeDefined();
  fireEvent.change(field, { target: { value: 'mos' } });
  expect(screen.queryByText(/in its name/)).toBeNull();
});
