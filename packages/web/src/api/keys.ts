/** A commit, while it is not known yet `undefined`. */
type Commit = string | undefined;

/**
 * Makes keys of one kind of answer. Called with fewer arguments it gives the beginning that all such keys share, as
 * invalidating wants it.
 */
function of<Parts extends readonly unknown[]>(kind: string) {
  return (...parts: Partial<Parts>): readonly unknown[] => [kind, ...parts];
}

/** The keys under which answers of the server are kept. What is about one workspace has its address as first part. */
export const keys = {
  session: of<[]>('session'),
  link: of<[secret: string]>('link'),
  workspaces: of<[]>('workspaces'),
  accounts: of<[]>('accounts'),

  workspace: of<[slug: string]>('workspace'),
  overview: of<[slug: string, commit: Commit]>('overview'),
  findings: of<[slug: string, commit: Commit]>('findings'),
  findingCount: of<[slug: string, commit: Commit]>('finding-count'),
  clearing: of<[slug: string, commit: Commit, ticked: readonly string[]]>('clearing'),

  alignment: of<[slug: string, commit: Commit, asked: object]>('alignment'),
  names: of<[slug: string, commit: Commit]>('names'),
  panel: of<[slug: string, name: string | undefined, commit: Commit]>('panel'),
  shared: of<[slug: string, commit: Commit]>('shared'),
  centralise: of<[slug: string, commit: Commit]>('centralise'),
  registrySearch: of<[slug: string, commit: Commit, query: string]>('registry-search'),
  registryNews: of<[slug: string, commit: Commit]>('registry-news'),
  registryPackage: of<[slug: string, commit: Commit, name: string]>('registry-package'),
  releaseNotes: of<[slug: string, name: string, version: string]>('release-notes'),
  upgrades: of<[slug: string, commit: Commit, olderThan: number]>('upgrades'),
  upgradeBatch: of<[slug: string, commit: Commit, query: object]>('upgrade-batch'),
  upgradeTrials: of<[slug: string, commit: Commit, offers: readonly string[]]>('upgrade-trials'),
  upgradeSum: of<[slug: string, commit: Commit, offers: readonly string[]]>('upgrade-sum'),

  standing: of<[slug: string, commit: Commit]>('standing'),

  trace: of<[slug: string, commit: Commit, query: object]>('trace'),
  chains: of<[slug: string, commit: Commit, query: object]>('chains'),
  leaving: of<[slug: string, commit: Commit, node: string | undefined]>('leaving'),
  several: of<[slug: string, commit: Commit, name: string | undefined]>('several'),
  without: of<[slug: string, commit: Commit, links: readonly unknown[]]>('without'),
  whatIf: of<[slug: string, commit: Commit, edits: readonly unknown[]]>('what-if'),
  weights: of<[slug: string, commit: Commit]>('weights'),

  bringIn: of<[slug: string, commit: Commit]>('bring-in'),
  broughtIn: of<[slug: string, commit: Commit, asked: object]>('brought-in'),

  project: of<[slug: string, folder: string | undefined, commit: Commit]>('project'),
  file: of<[slug: string, path: string, at: string | undefined, line: number | null]>('file'),
  lock: of<[slug: string, commit: Commit]>('lock'),
  lockCopy: of<[slug: string, commit: Commit, name: string, version: string]>('lock-copy'),
  drift: of<[slug: string, commit: Commit, query: object]>('drift'),
  driftLine: of<[slug: string, commit: Commit]>('drift-line'),
  machines: of<[slug: string, commit: Commit]>('machines'),
  archives: of<[slug: string, commit: Commit, query: object]>('archives'),

  drafts: of<[slug: string]>('drafts'),
  draft: of<[slug: string, id: string | null, commit: Commit]>('draft'),
  review:
    of<[slug: string, id: string, revision: number, base: string, sum: string | undefined]>(
      'review',
    ),
  suggestedFixes: of<[slug: string, id: string, revision: number, base: string]>('suggested-fixes'),
  journal: of<[slug: string, commit: Commit]>('journal'),
  comparison: of<[slug: string, from: string | null, to: string | null]>('comparison'),
  branches: of<[slug: string, commit: Commit]>('branches'),
  merge:
    of<[slug: string, commit: Commit, from: string | null, decisions: readonly unknown[]]>('merge'),
  jobs: of<[slug: string]>('jobs'),

  registries: of<[slug: string, commit: Commit]>('registries'),
  tokens: of<[slug: string]>('tokens'),
  audit: of<[slug: string]>('audit'),
};

/** What is about one workspace. */
export type WorkspaceKey = Exclude<
  keyof typeof keys,
  'session' | 'link' | 'workspaces' | 'accounts'
>;
