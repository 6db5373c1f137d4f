import { Injectable } from '@nestjs/common';
import {
  describeEdit,
  draftMessage,
  explainLockChange,
  LOCK_FILE,
  readLock,
  type DisputedCopy,
  type Edit,
  type NewOwnRange,
  type OpenTerms,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { DraftEvaluator, type SettledEvaluation } from '../drafts/draft-evaluator.js';
import { DraftService } from '../drafts/draft.service.js';
import { editsOf, type DraftEntity } from '../drafts/draft.entity.js';
import { SeenLockfiles } from '../drafts/seen-lockfiles.js';
import { GitHistory } from '../git/git-history.js';
import { GitService, type Author } from '../git/git.service.js';
import { Problem } from '../problems/problem.js';
import { ReviewService } from '../review/review.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { Landing } from './landing.service.js';
import type { PostDraftDto } from './post.dto.js';
import type { PostEntity } from './post.entity.js';

type Answered = Extract<SettledEvaluation, { kind: 'answered' }>;

/** Whose a commit is, what it says and when it is made. */
interface Signature {
  readonly message: string;
  readonly author: Author;
  readonly committer: Author;
  readonly at: Date;
}

/** Copies that are named where a lockfile came out otherwise than it was seen. */
const MOST_NAMED = 10;

/** Writes drafts as commits. */
@Injectable()
export class DraftPosting {
  constructor(
    private readonly drafts: DraftService,
    private readonly reviews: ReviewService,
    private readonly evaluator: DraftEvaluator,
    private readonly seen: SeenLockfiles,
    private readonly snapshots: SnapshotService,
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly landing: Landing,
    private readonly clock: Clock,
  ) {}

  /**
   * Writes a draft as one commit and moves the branch to it, if draft, branch and lockfile are those that the person
   * has seen. Either all of it happens or nothing.
   * @throws Problem BRANCH_MOVED, DRAFT_CHANGED, DRAFT_DIFFERS, DRAFT_NOT_POSTABLE, INTEGRITY_DISPUTED,
   *   OWN_RANGE_REFUSED, TERMS_NOT_ACCEPTED, NOTHING_TO_POST, APPROVAL_MISSING, POST_REFUSED, POST_UNDER_WAY, POST_UNCERTAIN
   */
  async post(
    workspace: WorkspaceEntity,
    draft: DraftEntity,
    request: PostDraftDto,
    committer: Author,
  ): Promise<PostEntity> {
    const post = await this.landing.alone(workspace, async () => {
      const snapshot = await this.snapshots.read(workspace, 'now');
      // Another server may have posted or changed it while this one waited.
      const now = await this.drafts.byId(workspace, draft.id);
      return this.write(workspace, snapshot, now, request, committer);
    });
    await this.snapshots.read(workspace, 'now');
    return post;
  }

  private async write(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    draft: DraftEntity,
    request: PostDraftDto,
    committer: Author,
  ): Promise<PostEntity> {
    demandSeen(workspace, snapshot, draft, request);
    const evaluation = await this.postable(workspace, snapshot, editsOf(draft));
    const { sum } = evaluation.consequences;
    if (sum !== request.sum) throw this.differs(request.sum, evaluation);
    const head = snapshot.head.commit;
    const approvals = await this.reviews.demand(workspace, draft, { head, sum });
    const author = authorOfDraft(draft) ?? committer;
    const at = this.clock.now();
    const message = await this.git.withTrailers(
      request.message,
      approvals.map((approver) => ({ key: 'Approved-by', ...approver })),
    );
    const branch = request.branch ?? workspace.branch;
    const base = branch === workspace.branch ? head : null;
    const commit = await this.commit(workspace, head, evaluation, message, author, committer, at);
    return this.landing.land(workspace, base, {
      draftId: draft.id,
      draftRevision: draft.revision,
      entries: draft.entries,
      branch,
      baseCommit: head,
      commit,
      message,
      authorName: author.name,
      authorEmail: author.email,
      committerName: committer.name,
      committerEmail: committer.email,
      approvedBy: approvals.map(({ name, email }) => `${name} <${email}>`),
      edits: editsOf(draft).map((edit) => describeEdit(snapshot.base.workspace, edit)),
      figures: figuresOf(evaluation),
      lockSum: sum,
      postedAt: at,
    });
  }

  /**
   * A draft as a patch that `git am` takes, on top of the head where it was evaluated.
   * @throws Problem DRAFT_NOT_POSTABLE, INTEGRITY_DISPUTED, NOTHING_TO_POST
   */
  async patch(workspace: WorkspaceEntity, draft: DraftEntity, reader: Author): Promise<string> {
    const snapshot = await this.snapshots.read(workspace);
    const evaluation = await this.postable(workspace, snapshot, editsOf(draft));
    const { workspace: read, unwritten } = snapshot.base;
    const message = draftMessage(read, editsOf(draft), draft.name, unwritten.size > 0);
    const head = snapshot.head.commit;
    const author = authorOfDraft(draft) ?? reader;
    const at = this.clock.now();
    const commit = await this.commit(workspace, head, evaluation, message, author, reader, at);
    return this.history.patchOf(workspace.id, commit);
  }

  /**
   * The result of edits, as a commit on the head that no branch has yet.
   * @throws Problem as `patch` does
   */
  async commitOf(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    edits: readonly Edit[],
    { message, author, committer, at }: Signature,
  ): Promise<string> {
    const evaluation = await this.postable(workspace, snapshot, edits);
    const head = snapshot.head.commit;
    return this.commit(workspace, head, evaluation, message, author, committer, at);
  }

  private async postable(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    edits: readonly Edit[],
  ): Promise<Answered> {
    const { evaluation } = await this.evaluator.evaluate(workspace, snapshot, edits);
    if (evaluation.kind !== 'answered') {
      throw new Problem(
        'DRAFT_NOT_POSTABLE',
        409,
        'The draft has no answer',
        'This draft does not lead to a lockfile. See in the draft what stands against it.',
      );
    }
    const { disputed, ownRanges, openTerms } = evaluation.consequences;
    if (disputed.length > 0) throw integrityDisputed(disputed);
    const added = ownRanges.filter(({ isAdded }) => isAdded);
    if (added.length > 0) throw ownRangesRefused(added);
    if (openTerms.length > 0) throw termsNotAccepted(openTerms, 'in the draft');
    if (evaluation.changes.length === 0) {
      throw new Problem('NOTHING_TO_POST', 409, 'Nothing to post', 'This draft changes no file.');
    }
    return evaluation;
  }

  /** What came out otherwise, where this server has shown the lockfile that was seen. */
  private differs(seen: string, evaluation: Answered): Problem {
    const was = this.seen.textOf(seen);
    const is = evaluation.changes.find(({ path }) => path === LOCK_FILE)?.after ?? null;
    const [before, after] = [was, is].map((text) => (text === null ? null : readLock(text)));
    const named =
      before?.kind === 'read' && after?.kind === 'read'
        ? explainLockChange(before.resolution, after.resolution).because.map(
            ({ name, from, to }) => `${name} ${from ?? 'new'} → ${to ?? 'gone'}`,
          )
        : [];
    const change =
      named.length === 0
        ? ''
        : ` Since then: ${named.slice(0, MOST_NAMED).join(', ')}${named.length > MOST_NAMED ? ` and ${named.length - MOST_NAMED} more` : ''}.`;
    return new Problem(
      'DRAFT_DIFFERS',
      409,
      'The draft comes out otherwise now',
      `It leads to another lockfile than the one you saw: the registry or the day has changed.${change} Nothing was written. Look at the draft again, then post.`,
    );
  }

  private commit(
    { id }: WorkspaceEntity,
    head: string,
    { changes }: Answered,
    message: string,
    author: Author,
    committer: Author,
    at: Date,
  ): Promise<string> {
    const files = changes.map(({ path, after }) => ({ path, text: after }));
    return this.git.writeCommit(id, { base: head, files, message, author, committer, at });
  }
}

/** @throws Problem DRAFT_CHANGED, BRANCH_MOVED */
function demandSeen(
  workspace: WorkspaceEntity,
  { head }: Snapshot,
  draft: DraftEntity,
  request: PostDraftDto,
): void {
  if (head.commit !== request.base)
    throw new Problem(
      'BRANCH_MOVED',
      409,
      'The branch moved',
      `${workspace.branch} went from ${request.base.slice(0, 7)} to ${head.commit.slice(0, 7)} ("${head.subject}", ${head.author}). Nothing was written. The draft is carried over to the new head; look at it again, then post.`,
    );
  if (draft.revision !== request.revision)
    throw new Problem(
      'DRAFT_CHANGED',
      409,
      'The draft was changed',
      'Edits were added, taken out or moved since you looked. Nothing was written. Look at the draft again, then post.',
    );
}

/** @returns a refusal that names both sums of every copy */
export function integrityDisputed(disputed: readonly DisputedCopy[]): Problem {
  const named = disputed.map(
    ({ name, version, locked, offered }) =>
      `${name} ${version}: the lockfile has ${locked}, the registry says ${offered}.`,
  );
  return new Problem(
    'INTEGRITY_DISPUTED',
    409,
    'Lockfile and registry disagree',
    `This touches copies of which the registry says another integrity than the lockfile has. ${named.join(' ')} Nothing was written. Find out which is right; the registry's is taken by an edit of its own.`,
  );
}

function ownRangesRefused(added: readonly NewOwnRange[]): Problem {
  const named = added.map(
    ({ project, name, range, agreed }) =>
      `${project} would write ${range} for ${name}, on which ${agreed} is agreed.`,
  );
  return new Problem(
    'OWN_RANGE_REFUSED',
    409,
    'Ranges of their own are refused here',
    `${named.join(' ')} Nothing was written. Let them take the shared version, or grant an exception.`,
  );
}

/** @param where they can be accepted */
export function termsNotAccepted(open: readonly OpenTerms[], where: string): Problem {
  const named = open.map(
    ({ title, url, copies }) =>
      `${copies.map(({ name, version }) => `${name} ${version}`).join(', ')}: "${title}" (${url}).`,
  );
  return new Problem(
    'TERMS_NOT_ACCEPTED',
    409,
    'Terms are not accepted',
    `This brings copies under terms that nobody has accepted. ${named.join(' ')} Nothing was written. Read them and accept them ${where}.`,
  );
}

function authorOfDraft({ author, authorEmail }: DraftEntity): Author | null {
  return authorEmail === null ? null : { name: author, email: authorEmail };
}

function figuresOf({ consequences }: Answered): PostEntity['figures'] {
  const { outOfLine, copies, manifests } = consequences;
  return { outOfLine, copies, manifests };
}
