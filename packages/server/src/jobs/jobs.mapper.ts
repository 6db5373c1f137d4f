import type { JobEntity } from './job.entity.js';
import type { JobDto } from './jobs.dto.js';

export function toJob(job: JobEntity): JobDto {
  const { id, kind, state, done, total, trouble, updatedAt } = job;
  return { id, kind, state, done, total, trouble, updatedAt: updatedAt.toISOString() };
}
