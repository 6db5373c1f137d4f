import { ApiProperty } from '@nestjs/swagger';
import { IsOptional, IsString, MaxLength } from 'class-validator';
import { REQUIREMENT_KINDS, type RequirementKind } from '@deep-ledger/core';

export class SearchQuery {
  @ApiProperty({ type: String, required: false, description: 'Words of name or summary' })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  query = '';
}

export class FoundPackageDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, description: 'The registry that it is asked of' }) registry: string;
  @ApiProperty({ type: String }) summary: string;
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
  @ApiProperty({ type: String, nullable: true, description: 'The day of the newest release' })
  published: string | null;
  @ApiProperty({ type: String, nullable: true }) licence: string | null;
  @ApiProperty({ type: Boolean, description: 'The policy allows the licence' })
  isLicenceAllowed: boolean;
  @ApiProperty({ type: Number, description: 'Projects that require it' }) projects: number;
  @ApiProperty({ type: [String], description: 'Releases in use' }) versions: string[];
}

export class RegistryTroubleDto {
  @ApiProperty({ type: String }) registry: string;
  @ApiProperty({ type: String }) says: string;
}

export class SearchDto {
  @ApiProperty({
    type: [FoundPackageDto],
    description: 'The best first, one registry after the other',
  })
  found: FoundPackageDto[];
  @ApiProperty({ type: Boolean, description: 'There is more than is told' }) isCut: boolean;
  @ApiProperty({ type: [RegistryTroubleDto], description: 'Registries that could not be searched' })
  troubles: RegistryTroubleDto[];
}

export class ReleaseTermsDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ type: String }) title: string;
  @ApiProperty({ type: String }) url: string;
  @ApiProperty({ enum: ['open', 'changed', 'accepted'] }) state: 'open' | 'changed' | 'accepted';
  @ApiProperty({ type: String, nullable: true, description: 'Who accepted them' }) by:
    | string
    | null;
  @ApiProperty({ type: String, nullable: true, description: 'On which day' }) on: string | null;
}

export class PublishedReleaseDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String }) published: string;
  @ApiProperty({ type: String, nullable: true }) licence: string | null;
  @ApiProperty({ type: Boolean }) isLicenceAllowed: boolean;
  @ApiProperty({
    type: ReleaseTermsDto,
    nullable: true,
    description: 'What must be accepted before it is used',
  })
  terms: ReleaseTermsDto | null;
  @ApiProperty({ type: Number }) bytes: number;
  @ApiProperty({ type: [String], description: 'Packages with ranges' }) needs: string[];
  @ApiProperty({ type: [String], description: 'Packages with ranges' }) peers: string[];
  @ApiProperty({ type: [String], description: 'What it asks of the platform' }) platform: string[];
  @ApiProperty({ type: [String] }) targets: string[];
  @ApiProperty({ type: String, nullable: true }) deprecated: string | null;
  @ApiProperty({ type: Boolean }) isPrerelease: boolean;
  @ApiProperty({ type: String, nullable: true, description: 'Why it cannot be used; null: it can' })
  why: string | null;
  @ApiProperty({ type: Boolean, description: 'The lockfile has a copy of it' }) isInUse: boolean;
}

export class ReleaseNotesDto {
  @ApiProperty({ type: String, nullable: true, description: 'In Markdown; null: it has none' })
  text: string | null;
  @ApiProperty({ type: Boolean, description: 'There is more than is told' }) isCut: boolean;
}

export class LatelyPublishedDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String, format: 'date' }) published: string;
}

export class LeftReleaseDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ enum: ['withdrawn', 'deprecated'] }) why: 'withdrawn' | 'deprecated';
  @ApiProperty({ type: String, nullable: true, description: 'What the registry says in its place' })
  says: string | null;
  @ApiProperty({ type: [String], description: 'Folders of projects that are answered by it' })
  projects: string[];
  @ApiProperty({ type: [String], description: 'Copies that are answered by it' }) copies: string[];
}

export class RegistryNewsDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({
    type: [LatelyPublishedDto],
    description: 'Of packages in use, since yesterday; the newest first',
  })
  published: LatelyPublishedDto[];
  @ApiProperty({
    type: [LeftReleaseDto],
    description: 'Copies whose release was withdrawn or deprecated',
  })
  left: LeftReleaseDto[];
}

export class RequiringProjectDto {
  @ApiProperty({ type: String }) folder: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ enum: REQUIREMENT_KINDS, nullable: true, description: 'Null: it does not' })
  kind: RequirementKind | null;
  @ApiProperty({ type: String, nullable: true }) range: string | null;
}

export class RegistryPackageDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) registry: string;
  @ApiProperty({ type: String }) summary: string;
  @ApiProperty({ type: [PublishedReleaseDto], description: 'The newest first' })
  releases: PublishedReleaseDto[];
  @ApiProperty({ type: String, nullable: true, description: 'The newest that can be used' })
  newest: string | null;
  @ApiProperty({ type: String, nullable: true, description: 'The shared version' })
  agreed: string | null;
  @ApiProperty({ type: [RequiringProjectDto], description: 'All projects' })
  projects: RequiringProjectDto[];
}
