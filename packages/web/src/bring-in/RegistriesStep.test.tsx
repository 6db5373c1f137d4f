import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { expect, test, vi } from 'vitest';
import type { TriedDocument } from '../api/client';
import { serverAnswers, showInFrame } from '../test/show-in-frame';
import { newRegistry, type BringInForm } from './bring-in-form';
import { RegistriesStep } from './RegistriesStep';

const TRY = 'POST /api/workspaces/{slug}/bring-in/try';
const READ: TriedDocument = {
  address: 'http://127.0.0.1:9/packages/kelp',
  document: '{}',
  isCut: false,
  releases: 3,
  newest: '1.2.0',
  needs: 1,
  trouble: null,
  proposed: null,
};
const SHAPE = {
  registry: 'main',
  document: '/goods/{name}',
  releases: '$.of[*]',
  version: '@.at',
  published: '',
  needs: '',
  optional: '',
  licence: '',
  deprecated: '',
  url: '',
  integrity: '',
} satisfies NonNullable<TriedDocument['proposed']>;

function Step() {
  const main = {
    ...newRegistry('main', '*'),
    ...{ key: 0, address: 'http://127.0.0.1:9', test: 'kelp' },
  };
  const [form, setForm] = useState<BringInForm>({
    name: 'ferries',
    kinds: [],
    shared: null,
    adopt: null,
    registries: [main],
  });
  return (
    <RegistriesStep
      slug="small"
      state={undefined}
      form={form}
      onChange={setForm}
      onNext={vi.fn()}
    />
  );
}

const registry = (name: string) => within(screen.getByRole('group', { name }));
const press = (name: string) => userEvent.click(screen.getByRole('button', { name }));

test('what was tried stays with its registry when another comes before it, and goes with it', async () => {
  serverAnswers({ [TRY]: READ });
  showInFrame(<Step />);
  await press('Try');
  await registry('Registry main').findByText(/^kelp: 3 releases/);
  await press('Another registry');
  const [another] = screen.getAllByRole('textbox', { name: 'Registry' });
  expect(document.activeElement).toBe(another);
  expect(registry('Registry main').getByText(/^kelp: 3 releases/)).toBeTruthy();
  await userEvent.keyboard('house');
  await userEvent.click(registry('Registry main').getByRole('button', { name: 'Take out' }));
  expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Another registry' }));
  expect(screen.queryByText(/^kelp: 3 releases/)).toBeNull();
  expect(screen.getByRole('group', { name: 'Registry house' })).toBeTruthy();
});

test('one that was taken out is put back where it was, as it was', async () => {
  serverAnswers({ [TRY]: READ });
  showInFrame(<Step />);
  await press('Another registry');
  await userEvent.keyboard('house');
  await userEvent.click(registry('Registry main').getByRole('button', { name: 'Take out' }));
  expect(screen.queryByRole('group', { name: 'Registry main' })).toBeNull();
  expect(screen.getByText(/^main is taken out/)).toBeTruthy();
  await press('Another registry');
  await press('Put it back');
  expect(screen.queryByText(/is taken out/)).toBeNull();
  const names = screen.getAllByRole('textbox', { name: 'Registry' });
  expect(names.map((field) => (field as HTMLInputElement).value)).toEqual(['', 'house', 'main']);
  expect(document.activeElement).toBe(names[2]);
  const address = registry('Registry main').getByLabelText('Address');
  expect((address as HTMLInputElement).value).toBe('http://127.0.0.1:9');
});

test('a layout that is taken is tried at once, as it is taken', async () => {
  const unread = { ...READ, releases: null, trouble: 'no releases', proposed: SHAPE };
  const answers: Record<string, object> = { [TRY]: unread };
  const asked = serverAnswers(answers);
  showInFrame(<Step />);
  await press('Try');
  await screen.findByText('Its documents are in another layout than ours');
  answers[TRY] = READ;
  await press('Read it so');
  await screen.findByText(/^kelp: 3 releases/);
  expect(screen.queryByText('It cannot be read')).toBeNull();
  expect(screen.getByRole('group', { name: 'How it speaks' })).toBeTruthy();
  expect(document.activeElement).toBe(screen.getByRole('button', { name: 'Try' }));
  await waitFor(() => expect(asked).toHaveLength(2));
  const { body } = asked[1]!.init as { body: { shapes: string } };
  expect(body.shapes).toContain('$.of[*]');
});
