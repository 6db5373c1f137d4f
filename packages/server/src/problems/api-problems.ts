import { applyDecorators } from '@nestjs/common';
import { ApiDefaultResponse, ApiExtraModels, getSchemaPath } from '@nestjs/swagger';
import { ProblemDto } from './problem.dto.js';

/** Says of a controller that its failures are problem documents. */
export function ApiProblems(): ClassDecorator & MethodDecorator {
  return applyDecorators(
    ApiExtraModels(ProblemDto),
    ApiDefaultResponse({
      description: 'A problem document (RFC 9457)',
      content: { 'application/problem+json': { schema: { $ref: getSchemaPath(ProblemDto) } } },
    }),
  );
}
