import createClient from 'openapi-fetch';
import type { components, paths } from './generated/schema';
import { patientFetch } from './patient-fetch';

type Schemas = components['schemas'];
export type WorkspaceSummary = Schemas['WorkspaceSummaryDto'];
export type WorkspaceState = Schemas['WorkspaceStateDto'];
export type Alignment = Schemas['AlignmentDto'];
export type AlignmentRow = Schemas['AlignmentRowDto'];
export type PackagePanel = Schemas['PackagePanelDto'];
export type PanelRequirement = Schemas['PanelRequirementDto'];
export type PanelDemand = Schemas['PanelDemandDto'];
export type Draft = Schemas['DraftDto'];
export type DraftSummary = Schemas['DraftSummaryDto'];
export type DraftEdit = Schemas['DraftEditDto'];
export type Edit = DraftEdit['edit'];
export type EditWords = Schemas['EditWordsDto'];
export type FileDiff = Schemas['FileDiffDto'];
export type ExplainedChange = Schemas['ExplainedChangeDto'];
export type SuggestedFixes = Schemas['SuggestedFixesDto'];
export type AlignmentCell = Schemas['AlignmentCellDto'];
export type ProjectName = Schemas['ProjectNameDto'];
export type Project = Schemas['ProjectDto'];
export type ProjectRequirement = Schemas['ProjectRequirementDto'];
export type Shared = Schemas['SharedDto'];
export type AgreedPackage = Schemas['AgreedPackageDto'];
export type ExceptionLine = Schemas['ExceptionLineDto'];
export type OtherwiseLine = Schemas['OtherwiseLineDto'];
export type Centralising = Schemas['CentralisingDto'];
export type FoundPackage = Schemas['FoundPackageDto'];
export type RegistryNews = Schemas['RegistryNewsDto'];
export type RegistryPackage = Schemas['RegistryPackageDto'];
export type UpgradeRow = Schemas['UpgradeRowDto'];
export type Offer = Schemas['UpgradeOfferDto'];
export type UpgradeTrial = Schemas['UpgradeTrialDto'];
export type UpgradePrice = Schemas['UpgradePriceDto'];
export type Batch = Schemas['UpgradeBatchDto'];
export type Archives = Schemas['ArchivesDto'];
export type ArchiveLine = Schemas['ArchiveLineDto'];
export type StandingOrder = Schemas['StandingOrderDto'];
export type CentralisingLine = Schemas['CentralisingLineDto'];
export type JournalEntry = Schemas['JournalEntryDto'];
export type Comparison = Schemas['ComparisonDto'];
export type PlacedProblem = Schemas['PlacedProblemDto'];
export type Post = Schemas['PostDto'];
export type Findings = Schemas['FindingsDto'];
export type Finding = Schemas['FindingDto'];
export type Remedy = Schemas['RemedyDto'];
export type RankedRemedy = Schemas['RankedRemedyDto'];
export type Evidence = Schemas['EvidenceDto'];
export type Clearing = Schemas['ClearingDto'];
export type Overview = Schemas['OverviewDto'];
export type OverviewPoint = Schemas['PointDto'];
export type Trace = Schemas['TraceDto'];
export type TraceNode = Schemas['TraceNodeDto'];
export type TraceLink = Schemas['TraceLinkDto'];
export type TraceChain = Schemas['ChainDto'];
export type WhySeveral = Schemas['WhySeveralDto'];
export type WhatIfAnswer = Schemas['WhatIfAnswerDto'];
export type NamedLink = Schemas['NamedLinkDto'];
export type Without = Schemas['WithoutAnswerDto'];
export type Session = Schemas['SessionDto'];
export type Account = Schemas['AccountDto'];
export type RegistryLine = Schemas['RegistryLineDto'];
export type BringIn = Schemas['BringInDto'];
export type BroughtIn = Schemas['BroughtInDto'];
export type TriedDocument = Schemas['TriedDocumentDto'];
export type TriedRegistry = Schemas['TriedRegistryDto'];
export type AccessToken = Schemas['TokenDto'];
export type AuditEntry = Schemas['AuditEntryDto'];
export type Review = Schemas['ReviewDto'];
export type Job = Schemas['JobDto'];
export type Lock = Schemas['LockDto'];
export type LockCopy = Schemas['LockCopyDto'];
export type LockCommit = Schemas['LockCommitDto'];
export type Drift = Schemas['DriftDto'];
export type DriftLine = Schemas['DriftLineDto'];
export type MachineLine = Schemas['MachineLineDto'];
export type Stand = Schemas['StandDto'];
export type MergePreview = Schemas['MergePreviewDto'];
export type MergeConflict = Schemas['MergeConflictDto'];
export type Decision = Schemas['DecisionDto'];
export type ProblemDocument = Schemas['ProblemDto'];

/** A failed request, with the server's problem document where it sent one. */
export class ApiError extends Error {
  constructor(readonly problem: ProblemDocument) {
    super(problem.detail);
    this.name = 'ApiError';
  }

  get code(): string {
    return this.problem.code;
  }
}

const UNREACHABLE: ProblemDocument = {
  type: 'about:blank',
  title: 'No answer from the server',
  status: 0,
  detail: 'The server cannot be reached. See whether bin/start is still running.',
  code: 'UNREACHABLE',
  problems: [],
};

export const api = createClient<paths>({ fetch: patientFetch });

let csrf: string | null = null;

/** What the session wants to see with everything that changes something. */
export function setCsrf(value: string | null): void {
  csrf = value;
}

api.use({
  onRequest: ({ request }) => {
    if (csrf !== null && request.method !== 'GET') request.headers.set('x-csrf-token', csrf);
  },
});

/** The answer's data. @throws ApiError */
export async function answer<T>(
  request: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  const result = await request.catch(() => {
    throw new ApiError(UNREACHABLE);
  });
  if (result.response.ok) return result.data as T;
  throw new ApiError(
    isProblem(result.error) ? result.error : { ...UNREACHABLE, status: result.response.status },
  );
}

function isProblem(error: unknown): error is ProblemDocument {
  return typeof error === 'object' && error !== null && 'code' in error && 'detail' in error;
}
