/** What can be done on each page, by its place in the address, for those who see it first. */
const LINES: Readonly<Record<string, string>> = {
  overview:
    'How the workspace stands, how it stood at each commit, and what to do first. Each step goes into a draft; nothing is written before you post it.',
  findings:
    'Everything that wants attention, by what it is about, with its evidence and what would clear it. Clear everything makes one draft of all that can be cleared.',
  'bring-in':
    'What was recognised in this repository, kind by kind, with what each kind reads. Change a place and see at once what it gives; nothing is written before the draft is posted.',
  alignment:
    'Each shared package with its releases along a rail and where your projects stand on it. Open one with Enter, drag the mark to a version, and pencil it in.',
  shared:
    'What the workspace has agreed on: versions, sets that move together, pins, exceptions and policy. Changes go into a draft.',
  centralise:
    'Versions that several projects write each for itself. Choose one per package and agree on it once, in the shared file.',
  upgrades:
    'What is newer than what you use, each step tried on the whole workspace. Choose lines with Space and pencil them in with P, or take what can be taken together.',
  registry:
    'Find a package in all registries of the workspace, see what adding it would bring, and add it to any number of projects in a draft.',
  trace:
    'Who brings a package in, or what a project brings in, chain by chain. Choose a box to follow its chains; try out an edit and see what would leave.',
  projects:
    'Every project with its requirements and how they stand to what was agreed on. Open one to change its requirements.',
  lockfile:
    'Every copy in the lockfile, why it is there, and the commits that changed it. A stale lockfile can be repaired by a draft.',
  drift: 'What a resolution without the lockfile would change: on a day, or between two days.',
  machines:
    'Which machines, build runs and branches stand on which lockfile, and what each of them lacks.',
  archives:
    'Archives that the server keeps of what lockfiles name, so that machines can install also while a registry is away.',
  diff: 'Drafts that are not posted, and what each would write, file by file.',
  merge:
    'Merge a branch requirement by requirement. What both sides changed is decided here, and the lockfile is resolved.',
  journal:
    'All posts and commits that touched a manifest or the lockfile. Any of them can be taken back.',
  team: 'People and what they may do, access tokens, and who did what.',
};

/** @param path of the address, such as `/w/inn/alignment` */
export function lineOfPage(path: string): string | null {
  return LINES[path.split('/')[3] ?? ''] ?? null;
}
