import { useId, useState, type FormEvent } from 'react';
import { useOutletContext } from 'react-router';
import { usePencil } from '../draft/usePencil';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { Dialog } from '../parts/Dialog';
import { ErrorNotice } from '../parts/ErrorNotice';
import { DateField } from '../parts/DateField';
import { Field } from '../parts/Field';
import { SelectField } from '../parts/SelectField';
import { checkText } from './check-text';
import type { EditForm, FormField, FormValues } from './form';
import { ManyField } from './ManyField';
import { useUnknownPackage } from './useUnknownPackage';

interface Props {
  readonly form: EditForm;
  readonly onClose: () => void;
}

/** Asks for what an edit needs, and pencils it into the draft in hand. */
export function EditDialog({ form, onClose }: Props) {
  const frame = useOutletContext<FrameContext>();
  const pencil = usePencil(frame);
  const [texts, setTexts] = useState(
    () => new Map(form.fields.map((field) => [field.name, field.initial ?? ''])),
  );
  const [chosen, setChosen] = useState(
    () =>
      new Map<string, readonly string[]>(
        form.fields.map((field) => [
          field.name,
          field.type === 'many' ? (field.initialChosen ?? []) : [],
        ]),
      ),
  );
  const values: FormValues = {
    text: (name) => texts.get(name)?.trim() ?? '',
    many: (name) => chosen.get(name) ?? [],
  };
  const named = form.fields.find((field) => 'known' in field);
  const unknown = useUnknownPackage(
    frame.slug,
    frame.state?.head.commit,
    named === undefined ? '' : values.text(named.name),
    knownOf(named),
  );
  const problemOf = (field: FormField): string | null =>
    textProblem(field, values.text(field.name)) ?? (field === named ? unknown : null);
  const isWhole = form.fields.every((field) =>
    field.type === 'many'
      ? isOptional(field) || values.many(field.name).length > 0
      : (isOptional(field) || values.text(field.name) !== '') && problemOf(field) === null,
  );
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    event.stopPropagation();
    if (!isWhole) return;
    pencil.mutate(
      { kind: 'edits', edits: form.make(values), draftName: form.draftName(values) },
      { onSuccess: onClose },
    );
  };
  return (
    <Dialog open onClose={onClose} title={form.title} about={form.about}>
      <form onSubmit={submit} className="flex flex-col gap-3">
        {form.fields.map((field) => (
          <FormInput
            key={field.name}
            field={field}
            problem={problemOf(field)}
            text={texts.get(field.name) ?? ''}
            chosen={chosen.get(field.name) ?? []}
            onText={(text) => setTexts((old) => new Map(old).set(field.name, text))}
            onChosen={(list) => setChosen((old) => new Map(old).set(field.name, list))}
          />
        ))}
        {pencil.isError && <ErrorNotice error={pencil.error} />}
        <div className="flex gap-2">
          <Button type="submit" disabled={!isWhole || pencil.isPending}>
            {pencil.isPending ? 'Pencilling' : 'Pencil it in'}
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not now
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

function isOptional(field: FormField): boolean {
  return 'isOptional' in field && field.isOptional === true;
}

function knownOf(field: FormField | undefined): readonly string[] {
  return field !== undefined && 'known' in field ? (field.known ?? []) : [];
}

function textProblem(field: FormField, text: string): string | null {
  return field.type === 'text' || field.type === 'date' ? checkText(field.check, text) : null;
}

interface InputProps {
  readonly field: FormField;
  readonly problem: string | null;
  readonly text: string;
  readonly chosen: readonly string[];
  readonly onText: (text: string) => void;
  readonly onChosen: (chosen: readonly string[]) => void;
}

function FormInput({ field, problem, text, chosen, onText, onChosen }: InputProps) {
  const listId = useId();
  if (field.type === 'many') return <ManyField field={field} chosen={chosen} onChange={onChosen} />;
  if (field.type === 'choice') {
    return (
      <SelectField label={field.label} value={text} options={field.options} onChange={onText} />
    );
  }
  if (field.type === 'date')
    return <DateField label={field.label} value={text} onChange={onText} />;
  return (
    <>
      <Field
        label={field.label}
        {...(problem === null ? {} : { problem })}
        {...(field.hint === undefined ? {} : { hint: field.hint })}
        required={!isOptional(field)}
        value={text}
        list={field.suggestions === undefined ? undefined : listId}
        onChange={(event) => onText(event.target.value)}
        className={field.isCode === true ? 'font-mono text-sm' : ''}
      />
      {field.suggestions !== undefined && (
        <datalist id={listId}>
          {field.suggestions.map((one) => (
            <option key={one} value={one} />
          ))}
        </datalist>
      )}
    </>
  );
}
