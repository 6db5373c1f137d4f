import type { AuditEntry } from '../api/client';

const ACTIONS: Readonly<Record<string, string>> = {
  signIn: 'signed in',
  signInFailed: 'failed to sign in',
  signOut: 'signed out',
  useLink: 'chose a password by a link',
  changePassword: 'changed the password',
  invite: 'added somebody',
  changeAccount: 'changed an account',
  linkAccount: 'made a password link',
  makeToken: 'made a token',
  revokeToken: 'revoked a token',
  openWorkspace: 'opened the workspace',
  closeWorkspace: 'closed the workspace',
  setRegistry: 'said where a registry is',
  tryRegistry: 'tried a registry',
  setSettings: 'changed how the team works',
  createDraft: 'began a draft',
  changeDraft: 'renamed or looked over a draft',
  setEntries: 'changed the edits of a draft',
  addEdits: 'added edits to a draft',
  levelPackage: 'levelled a package in a draft',
  levelPackages: 'levelled packages in a draft',
  centralise: 'centralised versions in a draft',
  undoDraft: 'undid a change of a draft',
  redoDraft: 'did a change of a draft again',
  deleteDraft: 'threw a draft away',
  restoreDraft: 'brought a draft back',
  postDraft: 'posted a draft',
  reverse: 'began to take a commit back',
  approveDraft: 'approved a draft',
  withdrawApproval: 'took an approval back',
  commentDraft: 'commented on a draft',
  removeComment: 'took a comment away',
  repairLockfile: 'began to repair the lockfile',
  beginMerge: 'began a merge',
  postMerge: 'posted a merge',
};

/** What somebody did, as the second half of a sentence. */
export function auditWords({ action }: Pick<AuditEntry, 'action'>): string {
  return ACTIONS[action] ?? action;
}
