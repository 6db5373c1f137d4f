import type { PostDto } from './post.dto.js';
import type { PostEntity } from './post.entity.js';

export function toPost(entity: PostEntity): PostDto {
  const {
    id,
    commit,
    baseCommit,
    branch,
    message,
    authorName,
    authorEmail,
    committerName,
    committerEmail,
    approvedBy,
    edits,
    figures,
    lockSum,
    postedAt,
  } = entity;
  return {
    id,
    commit,
    base: baseCommit,
    branch,
    message,
    authorName,
    authorEmail,
    committerName,
    committerEmail,
    approvedBy,
    postedAt: postedAt.toISOString(),
    edits,
    outOfLineBefore: figures.outOfLine[0],
    outOfLineAfter: figures.outOfLine[1],
    copiesBefore: figures.copies[0],
    copiesAfter: figures.copies[1],
    manifests: figures.manifests,
    lockSum,
  };
}
