import { ValidationPipe, type ArgumentMetadata } from '@nestjs/common';
import { Problem } from './problem.js';
import { requestProblem } from './request-words.js';

/** Checks what is sent, and refuses in words what no class could be made of. */
export class RequestPipe extends ValidationPipe {
  constructor() {
    super({
      transform: true,
      whitelist: true,
      forbidNonWhitelisted: true,
      exceptionFactory: requestProblem,
    });
  }

  override async transform(value: unknown, metadata: ArgumentMetadata): Promise<unknown> {
    if (metadata.type !== 'custom') demandText(value);
    try {
      return (await super.transform(value, metadata)) as unknown;
    } catch (error) {
      // The library that makes objects of classes stumbles where a list has null in place of an object.
      if (error instanceof TypeError)
        throw refused('An entry of a list is null or no object; give an object for each entry.');
      throw error;
    }
  }
}

/** The database keeps neither; a page could not show them. */
const NO_TEXT = /[\0\p{Surrogate}]/u;

/** @throws Problem REQUEST_INVALID where a text anywhere in a value is none */
function demandText(value: unknown): void {
  const open: unknown[] = [value];
  while (open.length > 0) {
    const one = open.pop();
    if (typeof one === 'string' && NO_TEXT.test(one))
      throw refused('A text has the character zero, or half a character, in it.');
    if (typeof one === 'object' && one !== null)
      for (const [key, inner] of Object.entries(one)) open.push(key, inner);
  }
}

function refused(detail: string): Problem {
  return new Problem('REQUEST_INVALID', 400, 'This cannot be taken', detail);
}
