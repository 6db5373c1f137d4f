import { isName } from '../text/index.js';
import {
  dropStandingOrder,
  scheduleProblem,
  setStandingOrder,
  setValue,
  type TomlValue,
} from '../manifest/index.js';
import { ROOT_FILE } from '../workspace/index.js';
import type { Edit, PolicySetting } from '../edit/index.js';
import type { EditedFiles } from './edited-files.js';

type PolicyEdit = Extract<
  Edit,
  { kind: 'set-policy' | 'set-platform' | 'set-standing' | 'end-standing' }
>;

const CHOICES: Readonly<Partial<Record<PolicySetting, readonly string[]>>> = {
  copies: ['any', 'one-per-major', 'one'],
  prereleases: ['named', 'never', 'always'],
  peers: ['report', 'strict'],
  'transitive-use': ['declared-only', 'allowed'],
  'own-ranges': ['reported', 'refused'],
};
const OF_PACKAGE: readonly PolicySetting[] = ['copies', 'prereleases', 'minimum-age-days'];

/** Edits of `ledger.toml`: policy, platform and standing orders. */
export function applyPolicyEdit(files: EditedFiles, edit: PolicyEdit): void {
  if (edit.kind === 'set-standing') {
    if (!isName(edit.name))
      return files.refuse('EDIT_NAME_INVALID', `"${edit.name}" cannot name a standing order.`);
    const wrong = scheduleProblem(edit.every);
    if (wrong !== null) return files.refuse('EDIT_VALUE_INVALID', wrong);
    return files.change(ROOT_FILE, setStandingOrder(edit));
  }
  if (edit.kind === 'end-standing') {
    if (!files.workspace.standing.some(({ name }) => name === edit.name))
      return files.refuse('EDIT_NOT_THERE', `There is no standing order ${edit.name} any more.`);
    return files.change(ROOT_FILE, [dropStandingOrder(edit.name)]);
  }
  if (edit.kind === 'set-platform') {
    if (!isName(edit.name) || edit.name === 'targets') {
      return files.refuse('EDIT_NAME_INVALID', `"${edit.name}" cannot name a platform.`);
    }
    if (!files.isVersion(edit.version, 'semver')) return;
    return files.change(ROOT_FILE, [setValue(['platform', edit.name], edit.version)]);
  }
  const { package: name, setting } = edit;
  if (name !== null && !OF_PACKAGE.includes(setting)) {
    return files.refuse(
      'EDIT_VALUE_INVALID',
      `${setting} holds for the workspace, not for one package.`,
    );
  }
  const value = policyValue(setting, edit.value);
  if (value === null) {
    const choices = CHOICES[setting]?.join(', ') ?? 'a whole number of days';
    return files.refuse(
      'EDIT_VALUE_INVALID',
      `"${edit.value}" is nothing that ${setting} can be. It can be ${choices}.`,
    );
  }
  const path = name === null ? ['policy', setting] : ['policy', 'package', name, setting];
  files.change(ROOT_FILE, [setValue(path, value)]);
}

function policyValue(setting: PolicySetting, text: string): TomlValue | null {
  if (setting === 'licences')
    return text
      .split(',')
      .map((one) => one.trim())
      .filter(Boolean);
  if (setting === 'minimum-age-days') return /^\d{1,5}$/.test(text) ? Number(text) : null;
  return CHOICES[setting]!.includes(text) ? text : null;
}
