import type { INestApplication } from '@nestjs/common';
import { DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger';

/** The interface as an OpenAPI document. */
export function openApiDocument(app: INestApplication): OpenAPIObject {
  const config = new DocumentBuilder()
    .setTitle('Deep Ledger')
    .setDescription(
      'Shared versions, drafts and the journal of workspaces. Failures are problem documents (RFC 9457) with a stable `code`.',
    )
    .setVersion('1')
    .build();
  return SwaggerModule.createDocument(app, config);
}
