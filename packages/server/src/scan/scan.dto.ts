import { ApiProperty } from '@nestjs/swagger';

export class UnseenDto {
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ type: Number }) line: number;
  @ApiProperty({ enum: ['computed', 'syntax'] }) what: 'computed' | 'syntax';
  @ApiProperty({ type: String }) text: string;
}

export class ScannedProjectDto {
  @ApiProperty({ type: String }) folder: string;
  @ApiProperty({ type: Number }) files: number;
  @ApiProperty({ type: Number, description: 'Packages that its source refers to' })
  packages: number;
  @ApiProperty({ type: [UnseenDto], description: 'What could not be read' }) unseen: UnseenDto[];
}

export class ScanDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [ScannedProjectDto] }) projects: ScannedProjectDto[];
}
