import type {
  PanelRequirement,
  ExceptionLine,
  OtherwiseLine,
  ProjectName,
  Shared,
} from '../api/client';
import type { Check, EditForm, FormField, Option } from './form';

const KINDS: readonly Option[] = ['runtime', 'dev', 'peer', 'optional'].map((value) => ({
  value,
  text: value,
}));
type Kind = 'runtime' | 'dev' | 'peer' | 'optional';

export function projectOptions(projects: readonly ProjectName[]): readonly Option[] {
  return projects.map(({ folder, name }) => ({ value: folder, text: name }));
}

/** @param own names of our own projects, where one of them can be meant */
function packageField(
  initial: string,
  suggestions: readonly string[] = [],
  own: readonly string[] = [],
): FormField {
  return {
    type: 'text',
    name: 'package',
    label: 'Package',
    initial,
    suggestions,
    isCode: true,
    check: 'package',
    known: [initial, ...suggestions, ...own],
  };
}

function rangeField(initial: string, hint?: string, check: Check = 'range'): FormField {
  const field = {
    type: 'text',
    name: 'range',
    label: 'Range',
    initial,
    isCode: true,
    check,
  } as const;
  return hint === undefined ? field : { ...field, hint };
}

function requiringOptions(requirements: readonly PanelRequirement[]): readonly Option[] {
  const byFolder = new Map(
    requirements.map(({ folder, project, range }) => [folder, `${project} (${range})`]),
  );
  return [...byFolder].map(([value, text]) => ({ value, text }));
}

/** The projects that require a package, each once. */
export function requiringProjects(
  requirements: readonly PanelRequirement[],
): readonly ProjectName[] {
  const names = new Map(requirements.map(({ folder, project }) => [folder, project]));
  return [...names].map(([folder, name]) => ({ folder, name }));
}

/** A year from now, as a day. */
export function inAYear(): string {
  const day = new Date();
  day.setFullYear(day.getFullYear() + 1);
  return day.toISOString().slice(0, 10);
}

/** Grants an exception to one of the projects that require a package. */
export function exceptionForm(
  name: string,
  requirements: readonly PanelRequirement[],
  known?: ExceptionLine,
): EditForm {
  const first = requirements.find(({ isOff }) => isOff) ?? requirements[0];
  return {
    title: known === undefined ? `Except a project from ${name}` : `Exception for ${name}`,
    about:
      'The project may differ from the shared version until the last day. It is marked with a dagger wherever it matters.',
    fields: [
      known === undefined
        ? {
            type: 'choice',
            name: 'project',
            label: 'Project',
            initial: first?.project ?? '',
            options: requirements.map(({ project, range }) => ({
              value: project,
              text: `${project} (${range})`,
            })),
          }
        : {
            type: 'choice',
            name: 'project',
            label: 'Project',
            initial: known.project,
            options: [{ value: known.project, text: known.project }],
          },
      rangeField(known?.range ?? first?.range ?? '', 'What the project may ask for.'),
      { type: 'text', name: 'reason', label: 'Reason', initial: known?.reason ?? '' },
      { type: 'text', name: 'owner', label: 'Who answers for it', initial: known?.owner ?? '' },
      { type: 'date', name: 'until', label: 'Last day', initial: inAYear() },
    ],
    draftName: (values) => `except ${values.text('project')}`,
    make: (values) => [
      {
        kind: 'grant-exception',
        package: name,
        project: values.text('project'),
        range: values.text('range'),
        reason: values.text('reason'),
        owner: values.text('owner'),
        until: values.text('until'),
      },
    ],
  };
}

/** Answers what releases of a package ask for otherwise than they ask. */
export function otherwiseForm(
  known: OtherwiseLine | null,
  suggestions: readonly string[] = [],
): EditForm {
  return {
    title: known === null ? 'Answer a release otherwise' : `What ${known.of} asks for`,
    about:
      'Where the team knows better than a release: what releases of a package ask for is answered by another range, up to a day. The lockfile has both ranges, and the line is marked with a dagger.',
    fields: [
      {
        type: 'text',
        name: 'of',
        label: 'Releases of',
        initial: known?.of ?? '',
        suggestions,
        isCode: true,
        check: 'package',
      },
      {
        type: 'text',
        name: 'package',
        label: 'Ask for',
        initial: known?.package ?? '',
        suggestions,
        isCode: true,
        check: 'package',
      },
      rangeField(known?.range ?? '', 'What is answered in place of their own range.'),
      { type: 'text', name: 'reason', label: 'Reason', initial: known?.reason ?? '' },
      { type: 'text', name: 'owner', label: 'Who answers for it', initial: known?.owner ?? '' },
      { type: 'date', name: 'until', label: 'Last day', initial: inAYear() },
    ],
    draftName: (values) => `answer ${values.text('of')} otherwise`,
    make: (values) => [
      {
        kind: 'answer-otherwise',
        of: values.text('of'),
        package: values.text('package'),
        range: values.text('range'),
        reason: values.text('reason'),
        owner: values.text('owner'),
        until: values.text('until'),
      },
    ],
  };
}

/** @param except names or folders of projects that are left out now */
export function pinForm(
  name: string,
  version: string,
  projects: readonly ProjectName[],
  except: readonly string[] = [],
  suggestions: readonly string[] = [],
): EditForm {
  return {
    title: name === '' ? 'Pin a package' : `Pin ${name}`,
    about:
      'One exact version wherever the package turns up, under other packages too. Ranges that do not admit it have no answer then.',
    fields: [
      packageField(name, suggestions),
      {
        type: 'text',
        name: 'version',
        label: 'Version',
        initial: version,
        isCode: true,
        check: 'version',
      },
      {
        type: 'many',
        name: 'except',
        label: 'Leave these projects out',
        options: projectOptions(projects),
        isOptional: true,
        initialChosen: projects.flatMap(({ folder, name: project }) =>
          except.some((one) => one === folder || one === project) ? [folder] : [],
        ),
      },
    ],
    draftName: (values) => `pin ${values.text('package')}`,
    make: (values) => {
      const left = values.many('except');
      return [
        {
          kind: 'pin',
          package: values.text('package'),
          version: values.text('version'),
          ...(left.length === 0 ? {} : { except: [...left] }),
        },
      ];
    },
  };
}

export function setRangeForm(name: string, requirements: readonly PanelRequirement[]): EditForm {
  return {
    title: `A range of their own for ${name}`,
    about: 'The projects ask for this range in their own manifests, whatever is agreed.',
    fields: [
      rangeField(requirements[0]?.range ?? ''),
      {
        type: 'many',
        name: 'projects',
        label: 'Projects',
        options: requiringOptions(requirements),
      },
    ],
    draftName: () => `range of ${name}`,
    make: (values) => [
      {
        kind: 'set-range',
        package: name,
        range: values.text('range'),
        projects: [...values.many('projects')],
      },
    ],
  };
}

/** Adds a requirement to projects. */
export function addForm(
  projects: readonly ProjectName[],
  chosen: readonly string[],
  packages: readonly string[],
): EditForm {
  return {
    title: 'Add a requirement',
    about: 'To one project, or to several at once.',
    fields: [
      packageField(
        '',
        packages,
        projects.map(({ name }) => name),
      ),
      rangeField(
        'shared',
        '“shared” takes the shared version, “workspace” asks for one of our own projects.',
        'requirement-range',
      ),
      { type: 'choice', name: 'as', label: 'Kind', options: KINDS, initial: 'runtime' },
      {
        type: 'many',
        name: 'projects',
        label: 'Projects',
        options: projectOptions(projects),
        initialChosen: chosen,
      },
    ],
    draftName: (values) => `add ${values.text('package')}`,
    make: (values) => [
      {
        kind: 'add-requirement',
        package: values.text('package'),
        range: values.text('range'),
        as: values.text('as') as Kind,
        projects: [...values.many('projects')],
      },
    ],
  };
}

/** What can be done to one requirement, in its project or in several that have it. */
export type RequirementStep = 'remove' | 'kind' | 'range';

export function requirementForm(
  step: RequirementStep,
  requirement: { readonly name: string; readonly kind: string; readonly range: string },
  having: readonly ProjectName[],
  chosen: readonly string[],
): EditForm {
  const { name, kind, range } = requirement;
  const projects: FormField = {
    type: 'many',
    name: 'projects',
    label: 'In these projects',
    options: projectOptions(having),
    initialChosen: chosen,
  };
  const foldersOf = (values: Parameters<EditForm['make']>[0]): string[] => [
    ...values.many('projects'),
  ];
  switch (step) {
    case 'remove':
      return {
        title: `Remove ${name}`,
        about: 'The line goes from the manifest, with the comment on it.',
        fields: [projects],
        draftName: () => `remove ${name}`,
        make: (values) => [
          { kind: 'remove-requirement', package: name, projects: foldersOf(values) },
        ],
      };
    case 'kind':
      return {
        title: `Kind of ${name}`,
        about: 'The line moves to another table of the manifest, as it is written.',
        fields: [
          { type: 'choice', name: 'as', label: 'Kind', options: KINDS, initial: kind },
          projects,
        ],
        draftName: () => `kind of ${name}`,
        make: (values) => [
          {
            kind: 'change-kind',
            package: name,
            as: values.text('as') as Kind,
            projects: foldersOf(values),
          },
        ],
      };
    case 'range':
      return {
        title: `A range of its own for ${name}`,
        about: 'The projects ask for this range in their own manifests, whatever is agreed.',
        fields: [rangeField(range), projects],
        draftName: () => `range of ${name}`,
        make: (values) => [
          {
            kind: 'set-range',
            package: name,
            range: values.text('range'),
            projects: foldersOf(values),
          },
        ],
      };
  }
}

export function agreeForm(name: string, range: string, packages: readonly string[]): EditForm {
  return {
    title: name === '' ? 'Agree on a version' : `Agree on ${name}`,
    about: 'Sets the shared version. Projects that take it follow; the others stay as they are.',
    fields: [packageField(name, packages), rangeField(range)],
    draftName: (values) => `agree on ${values.text('package')}`,
    make: (values) => [
      { kind: 'set-shared', package: values.text('package'), range: values.text('range') },
    ],
  };
}

export function setForm(
  known: { readonly name: string; readonly range: string; readonly packages: readonly string[] },
  packages: readonly string[],
): EditForm {
  return {
    title: known.name === '' ? 'Make a lockstep set' : `Lockstep set ${known.name}`,
    about: 'Its packages always carry the same version, set once for all of them.',
    fields: [
      { type: 'text', name: 'set', label: 'Name', initial: known.name, isCode: true },
      rangeField(known.range),
      {
        type: 'many',
        name: 'packages',
        label: 'Packages',
        options: packages.map((value) => ({ value, text: value })),
        initialChosen: known.packages,
      },
    ],
    draftName: (values) => `set ${values.text('set')}`,
    make: (values) => [
      {
        kind: 'make-set',
        set: values.text('set'),
        range: values.text('range'),
        packages: [...values.many('packages')],
      },
    ],
  };
}

export function everywhereForm(
  known: Shared['everywhere'][number] | null,
  projects: readonly ProjectName[],
  packages: readonly string[],
): EditForm {
  const excepted = projects.flatMap(({ folder, name }) =>
    known?.except.some((one) => one === folder || one === name) ? [folder] : [],
  );
  return {
    title: known === null ? 'Require a package everywhere' : `${known.package} everywhere`,
    about: 'Every project has it without writing it, but those that are excepted.',
    fields: [
      packageField(known?.package ?? '', packages),
      rangeField(known?.range ?? ''),
      { type: 'choice', name: 'as', label: 'Kind', options: KINDS, initial: known?.kind ?? 'dev' },
      {
        type: 'many',
        name: 'except',
        label: 'Except these',
        options: projectOptions(projects),
        isOptional: true,
        initialChosen: excepted,
      },
    ],
    draftName: (values) => `${values.text('package')} everywhere`,
    make: (values) => [
      {
        kind: 'everywhere',
        package: values.text('package'),
        range: values.text('range'),
        as: values.text('as') as Kind,
        except: [...values.many('except')],
      },
    ],
  };
}
