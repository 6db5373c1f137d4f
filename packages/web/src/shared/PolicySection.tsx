import type { FormEvent } from 'react';
import type { Edit, Shared } from '../api/client';
import { Field } from '../parts/Field';
import { SelectField } from '../parts/SelectField';
import { Section } from '../parts/Section';
import { useTyped } from '../parts/useTyped';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly shared: Shared;
  readonly isBusy: boolean;
  readonly onMake: (edit: Edit) => void;
}

type Setting = Extract<Edit, { kind: 'set-policy' }>['setting'];

const CHOICES: Readonly<
  Partial<Record<Setting, readonly { readonly value: string; readonly text: string }[]>>
> = {
  copies: [
    { value: 'any', text: 'any number' },
    { value: 'one-per-major', text: 'one for each major' },
    { value: 'one', text: 'one' },
  ],
  peers: [
    { value: 'report', text: 'report what is not met' },
    { value: 'strict', text: 'no answer unless all are met' },
  ],
  prereleases: [
    { value: 'named', text: 'where a range names one' },
    { value: 'never', text: 'never' },
    { value: 'always', text: 'always' },
  ],
  'transitive-use': [
    { value: 'declared-only', text: 'only what a project declares' },
    { value: 'allowed', text: 'what others bring in, too' },
  ],
  'own-ranges': [
    { value: 'reported', text: 'are reported' },
    { value: 'refused', text: 'are refused' },
  ],
};

const LABELS: Readonly<Record<Setting, string>> = {
  copies: 'Copies of a package',
  peers: 'Peers',
  prereleases: 'Prereleases',
  'transitive-use': 'Source may use',
  'own-ranges': 'Ranges of their own for agreed packages',
  'minimum-age-days': 'Days that a release must be old',
  licences: 'Licences that are allowed',
};

/** What holds for all answers. A change is pencilled, so that its effect is seen before it is written. */
export function PolicySection({ shared: { policy, platform, targets }, isBusy, onMake }: Props) {
  const current: Readonly<Record<Setting, string>> = {
    copies: policy.copies,
    peers: policy.peers,
    prereleases: policy.prereleases,
    'transitive-use': policy.transitiveUse,
    'own-ranges': policy.ownRanges,
    'minimum-age-days': String(policy.minimumAgeDays),
    licences: policy.licences.join(', '),
  };
  return (
    <Section title="Policy and platform" empty={null}>
      <p className="px-2 pt-2 text-sm text-ink-2">
        A change goes into the draft in hand; what would come of it stands there before it is
        written.
      </p>
      <div className="grid grid-cols-2 items-start gap-x-6 gap-y-3 px-2 py-2 max-fold:grid-cols-1">
        {(Object.keys(LABELS) as Setting[]).map((setting) => (
          <PolicySetting
            key={setting}
            setting={setting}
            now={current[setting]}
            isBusy={isBusy}
            onMake={(value) => onMake({ kind: 'set-policy', package: null, setting, value })}
          />
        ))}
        {platform.map(({ name, version }) => (
          <TextSetting
            key={name}
            label={`Platform: ${name}`}
            now={version}
            isBusy={isBusy}
            onMake={(text) => onMake({ kind: 'set-platform', name, version: text })}
          />
        ))}
      </div>
      <p className="border-t border-rule px-2 py-1.5 text-sm text-ink-2">
        Targets: {targets.length === 0 ? 'none named' : targets.join(', ')}
        {policy.ofPackage.map((one) => (
          <span key={one.package}>
            {' · '}
            {one.package}: copies {one.copies}, prereleases {one.prereleases}, {one.minimumAgeDays}{' '}
            days
          </span>
        ))}
      </p>
    </Section>
  );
}

interface SettingProps {
  readonly setting: Setting;
  readonly now: string;
  readonly isBusy: boolean;
  readonly onMake: (value: string) => void;
}

function PolicySetting({ setting, now, isBusy, onMake }: SettingProps) {
  const [value, setValue] = useTyped(now);
  const choices = CHOICES[setting];
  if (choices === undefined) {
    return (
      <TextSetting
        label={LABELS[setting]}
        now={now}
        isBusy={isBusy}
        onMake={onMake}
        {...(setting === 'licences'
          ? { hint: 'SPDX identifiers, parted by commas; none: any.' }
          : {})}
      />
    );
  }
  return (
    <div className="flex items-end gap-2">
      <SelectField label={LABELS[setting]} value={value} options={choices} onChange={setValue} />
      {value !== now && (
        <EditorButton look="quiet" disabled={isBusy} onClick={() => onMake(value)}>
          Pencil it in
        </EditorButton>
      )}
    </div>
  );
}

interface TextProps {
  readonly label: string;
  readonly hint?: string;
  readonly now: string;
  readonly isBusy: boolean;
  readonly onMake: (value: string) => void;
}

function TextSetting({ label, hint, now, isBusy, onMake }: TextProps) {
  const [text, setText] = useTyped(now);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    onMake(text.trim());
  };
  return (
    <form onSubmit={submit} className="flex items-end gap-2">
      <Field
        label={label}
        {...(hint === undefined ? {} : { hint })}
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="font-mono text-sm"
      />
      {text.trim() !== now && (
        <EditorButton type="submit" look="quiet" disabled={isBusy}>
          Pencil it in
        </EditorButton>
      )}
    </form>
  );
}
