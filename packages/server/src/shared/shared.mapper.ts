import {
  placeOf,
  printVersion,
  SHARED_FILE,
  suggestSets,
  termsOfCopy,
  termsStand,
  type DraftBase,
  type PackagePolicy,
  type AlignmentRow,
  type Span,
  type Workspace,
} from '@deep-ledger/core';
import type {
  AcceptedLineDto,
  AgreedPackageDto,
  ExceptionLineDto,
  OtherwiseLineDto,
  CentralisingDto,
  PinLineDto,
  PolicyDto,
  SharedDto,
} from './shared.dto.js';
import type { Centralising } from '@deep-ledger/core';

const DAY_MS = 86_400_000;

export function toShared(commit: string, base: DraftBase, workspace: Workspace): SharedDto {
  const { files, rows, today, records } = base;
  const { shared, platform, targets } = workspace;
  const byName = new Map(rows.map((row) => [row.name, row]));
  const place = (span: Span) => placeOf(files, SHARED_FILE, span);
  const agreed = (name: string, range: string, span: Span): AgreedPackageDto => ({
    package: name,
    range,
    ...figures(byName.get(name)),
    place: place(span),
  });
  const inSets = new Set(shared.lockstep.flatMap(({ packages }) => packages));
  const direct = rows.filter(({ usedBy, name }) => usedBy > 0 && !inSets.has(name));
  return {
    commit,
    shared: [...shared.shared].map(([name, { text, span }]) => agreed(name, text, span)),
    sets: shared.lockstep.map(({ name, text, span, packages }) => ({
      name,
      range: text,
      packages: packages.map((one) => agreed(one, text, span)),
      place: place(span),
    })),
    suggestions: suggestSets(
      records,
      direct.map(({ name }) => name),
    ).map((one) => ({ ...one, packages: [...one.packages] })),
    everywhere: shared.everywhere.map(({ name, text, kind, except, span }) => ({
      package: name,
      range: text,
      kind,
      except: except.map((one) => one.text),
      newest: byName.get(name)?.newest ?? null,
      place: place(span),
    })),
    pins: pinsOf(base, byName, place),
    exceptions: exceptionsOf(workspace, today, place),
    accepted: acceptedOf(base, workspace, place),
    otherwise: otherwiseOf(base, today, place),
    policy: toPolicy(workspace),
    platform: [...platform].map(([name, version]) => ({ name, version: printVersion(version) })),
    targets: [...targets],
  };
}

function figures(
  row: AlignmentRow | undefined,
): Pick<AgreedPackageDto, 'usedBy' | 'takes' | 'off' | 'exceptions' | 'newest'> {
  const takers = row?.cells.filter(({ standing }) => standing === 'takes') ?? [];
  return {
    usedBy: row?.usedBy ?? 0,
    takes: new Set(takers.map(({ project }) => project)).size,
    off: row?.off ?? 0,
    exceptions: row?.exceptions ?? 0,
    newest: row?.newest ?? null,
  };
}

type Placing = (span: Span) => AgreedPackageDto['place'];

function pinsOf(
  { workspace, lock }: DraftBase,
  byName: ReadonlyMap<string, AlignmentRow>,
  place: Placing,
): PinLineDto[] {
  const demands = new Map<string, number>();
  for (const { requirements } of lock?.resolution?.copies ?? [])
    for (const { name } of requirements) demands.set(name, (demands.get(name) ?? 0) + 1);
  return [...(workspace?.shared.pins ?? [])].map(([name, { text, except, span }]) => ({
    except: except.map((one) => one.text),
    package: name,
    version: text,
    newest: byName.get(name)?.newest ?? null,
    usedBy: byName.get(name)?.usedBy ?? 0,
    demands: demands.get(name) ?? 0,
    place: place(span),
  }));
}

function otherwiseOf(
  { workspace, lock }: DraftBase,
  today: string,
  place: Placing,
): OtherwiseLineDto[] {
  return (workspace?.shared.otherwise ?? [])
    .map(({ span, ...line }) => {
      const asked = (lock?.resolution?.copies ?? []).flatMap(({ name, requirements }) =>
        name === line.of
          ? requirements.flatMap((one) => (one.name === line.package ? [one.written] : []))
          : [],
      );
      return {
        ...line,
        asks: [...new Set(asked)],
        daysLeft: daysTo(line.until, today),
        place: place(span),
      };
    })
    .sort((a, b) => a.daysLeft - b.daysLeft);
}

function daysTo(until: string, today: string): number {
  return Math.round((Date.parse(until) - Date.parse(today)) / DAY_MS);
}

function exceptionsOf(
  { exceptions, projects }: Workspace,
  today: string,
  place: Placing,
): ExceptionLineDto[] {
  return exceptions
    .map(({ span, ...line }) => {
      const project = projects.find(
        ({ name, folder }) => name === line.project || folder === line.project,
      );
      const isUsed = project?.requirements.some(
        (one) => one.name === line.package && one.written === line.range,
      );
      return {
        ...line,
        folder: project?.folder ?? null,
        daysLeft: daysTo(line.until, today),
        isUsed: isUsed ?? false,
        place: place(span),
      };
    })
    .sort((a, b) => a.daysLeft - b.daysLeft);
}

function acceptedOf(
  { records, lock }: DraftBase,
  { shared: { accepted } }: Workspace,
  place: Placing,
): AcceptedLineDto[] {
  const copies = lock?.resolution?.copies ?? [];
  const under = copies.map((copy) => {
    const terms = termsOfCopy(records, copy);
    return terms === null ? null : termsStand(accepted, terms);
  });
  return accepted.map((line) => {
    const { span, ...texts } = line;
    const isUnder = (_: unknown, i: number): boolean =>
      under[i]?.state === 'accepted' && under[i].line === line;
    return {
      ...texts,
      copies: copies.filter(isUnder).map(({ name, version }) => `${name} ${version}`),
      place: place(span),
    };
  });
}

function toPolicy({ policy }: Workspace): PolicyDto {
  const { peers, transitiveUse, ownRanges, licences, ofPackage } = policy;
  const plain = ({ copies, prereleases, minimumAgeDays }: PackagePolicy): PackagePolicy => ({
    copies,
    prereleases,
    minimumAgeDays,
  });
  return {
    ...plain(policy),
    peers,
    transitiveUse,
    ownRanges,
    licences: [...licences],
    ofPackage: [...ofPackage].map(([name, one]) => ({ package: name, ...plain(one) })),
  };
}

export function toCentralising(commit: string, { lines, sets }: Centralising): CentralisingDto {
  return {
    commit,
    lines: lines.map((line) => ({
      ...line,
      choices: line.choices.map((choice) => ({
        ...choice,
        takes: [...choice.takes],
        moves: [...choice.moves],
      })),
    })),
    sets: sets.map((set) => ({ ...set, packages: [...set.packages] })),
  };
}
