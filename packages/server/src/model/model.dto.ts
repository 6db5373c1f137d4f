import { ApiProperty } from '@nestjs/swagger';

export class ModelFileDto {
  @ApiProperty({ type: String }) path: string;
  @ApiProperty({ type: String }) text: string;
}

/** Everything that a draft is worked out from: what the page needs to work it out itself. */
export class ModelDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String, format: 'date' }) today: string;
  @ApiProperty({ type: [ModelFileDto] }) files: ModelFileDto[];
  @ApiProperty({
    type: 'array',
    items: { type: 'object', additionalProperties: true },
    description: "The registry's documents as they came",
  })
  packages: object[];
  @ApiProperty({ type: [String], description: 'Packages that the registry does not have' })
  missing: string[];
}
