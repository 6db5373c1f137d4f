import type { INestApplication } from '@nestjs/common';
import { DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger';

/** The interface as an OpenAPI document. */
export function openApiDocument(app: INestApplication): OpenAPIObject {
  const config = new DocumentBuilder()
    .setTitle('Deep Ledger')
    .setDescription(
      'Shared versions, drafts and the journal of workspaces. Failures are problem documents (RFC 9457) with a stable `code`. A question that waits for long work is answered with 202 and the address of its job to callers that send `Prefer: respond-async` (RFC 7240), after a second or after `wait` seconds; asked again when the job is over, it has its answer.',
    )
    .setVersion('1')
    .build();
  return SwaggerModule.createDocument(app, config);
}
