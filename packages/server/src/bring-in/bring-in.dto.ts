import { ApiProperty } from '@nestjs/swagger';
import {
  REQUIREMENT_KINDS,
  SYNTAX_NAMES,
  VERSION_SCHEMES,
  type RequirementKind,
  type SyntaxName,
  type VersionScheme,
} from '@deep-ledger/core';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsIn,
  IsNotEmpty,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
} from 'class-validator';
import { PlacedProblemDto } from '../problems/problem.dto.js';
import { AccessToken, RegistryUrl } from '../workspaces/workspace.dto.js';
import { EachIs } from '../problems/each-is.js';

const GRAMMARS = SYNTAX_NAMES.filter((name) => name !== 'lines');
const RANGES = ['semver', 'interval', 'vers'] as const;
const BARE = ['exact', 'at-least', 'caret'] as const;

export class RequirementFormDto {
  @ApiProperty({ type: String }) at: string;
  @ApiProperty({ type: [String], description: 'None: keys are names' }) package: string[];
  @ApiProperty({ type: String }) join: string;
  @ApiProperty({ type: String, nullable: true }) range: string | null;
  @ApiProperty({ type: String, nullable: true }) when: string | null;
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
}

export class ShipsFormDto {
  @ApiProperty({ type: String }) at: string;
  @ApiProperty({ type: [String] }) library: string[];
}

export class SpellingDto {
  @ApiProperty({ enum: RANGES }) ranges: (typeof RANGES)[number];
  @ApiProperty({ enum: VERSION_SCHEMES }) versions: VersionScheme;
  @ApiProperty({ enum: BARE, nullable: true }) bare: (typeof BARE)[number] | null;
  @ApiProperty({ type: String, nullable: true }) shared: string | null;
  @ApiProperty({ type: String, nullable: true }) workspace: string | null;
}

export class ManifestFormDto {
  @ApiProperty({ type: [String] }) files: string[];
  @ApiProperty({ enum: SYNTAX_NAMES }) syntax: SyntaxName;
  @ApiProperty({ type: String, nullable: true }) pattern: string | null;
  @ApiProperty({ type: Number }) levels: number;
  @ApiProperty({ type: String, nullable: true }) name: string | null;
  @ApiProperty({ type: String, nullable: true }) version: string | null;
  @ApiProperty({ type: ShipsFormDto, nullable: true }) ships: ShipsFormDto | null;
  @ApiProperty({ type: [RequirementFormDto] }) requirements: RequirementFormDto[];
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: SpellingDto }) spelling: SpellingDto;
}

export class PlaceEvidenceDto {
  @ApiProperty({ type: Number, description: 'Values that read as ranges or as words for one' })
  good: number;
  @ApiProperty({ type: Number }) values: number;
  @ApiProperty({ type: String }) why: string;
}

export class ProposedManifestDto {
  @ApiProperty({ type: ManifestFormDto }) form: ManifestFormDto;
  @ApiProperty({ type: Number }) files: number;
  @ApiProperty({ type: String, description: 'The path of the first of them' }) first: string;
  @ApiProperty({ type: [PlaceEvidenceDto], description: 'One for each place' })
  evidence: PlaceEvidenceDto[];
  @ApiProperty({ type: Boolean }) isSure: boolean;
}

export class SharedFormDto {
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ enum: GRAMMARS }) syntax: Exclude<SyntaxName, 'lines'>;
  @ApiProperty({ type: String }) at: string;
}

export class AdoptFormDto {
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ enum: GRAMMARS }) syntax: Exclude<SyntaxName, 'lines'>;
  @ApiProperty({ type: String }) items: string;
  @ApiProperty({ type: String, nullable: true }) package: string | null;
  @ApiProperty({ type: String, nullable: true }) version: string | null;
}

export class ProposedSharedDto {
  @ApiProperty({ type: SharedFormDto }) form: SharedFormDto;
  @ApiProperty({ type: Number }) values: number;
}

export class ProposedAdoptDto {
  @ApiProperty({ type: AdoptFormDto }) form: AdoptFormDto;
  @ApiProperty({ type: Number }) values: number;
}

export class PreparedDto {
  @ApiProperty({ type: String, description: 'The text of ledger.toml' }) root: string;
  @ApiProperty({ type: String, description: 'The text of ledger.shapes.toml' }) shapes: string;
}

/** What a repository has that could be read. */
export class BringInDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String, description: 'What the workspace could be called' }) name: string;
  @ApiProperty({ type: Number }) files: number;
  @ApiProperty({ type: Number, description: 'Files that are too large to be looked at' })
  tooLarge: number;
  @ApiProperty({ type: Number }) notText: number;
  @ApiProperty({ type: Boolean, description: 'There are more files than were looked at' })
  isCut: boolean;
  @ApiProperty({ type: [ProposedManifestDto] }) manifests: ProposedManifestDto[];
  @ApiProperty({ type: ProposedSharedDto, nullable: true }) shared: ProposedSharedDto | null;
  @ApiProperty({ type: ProposedAdoptDto, nullable: true }) adopt: ProposedAdoptDto | null;
  @ApiProperty({
    type: [String],
    description: 'The first files with a structure in which nothing was recognised',
  })
  unread: string[];
  @ApiProperty({ type: Number }) unreadCount: number;
  @ApiProperty({
    type: PreparedDto,
    nullable: true,
    description: 'What the repository is read with until it is posted; null: nothing yet',
  })
  prepared: PreparedDto | null;
}

export class RegistryPatternsDto {
  @ApiProperty({ type: String, description: 'As ledger.toml is to have it' })
  @IsString()
  @IsNotEmpty()
  @MaxLength(200)
  name: string;
  @ApiProperty({ type: [String], description: 'Of package names' })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(1000)
  @IsString({ each: true })
  @MaxLength(300, { each: true })
  patterns: string[];
  @ApiProperty({ enum: VERSION_SCHEMES, description: 'How it writes versions' })
  @IsIn(VERSION_SCHEMES)
  versions: VersionScheme;
}

class ShapesTextDto {
  @ApiProperty({ type: String, description: 'The text of ledger.shapes.toml' })
  @IsString()
  @MaxLength(200_000)
  shapes: string;
}

export class ReadAskedDto extends ShapesTextDto {
  @ApiProperty({ type: String, description: 'Of the workspace' })
  @IsString()
  @MaxLength(300)
  name: string;
  @ApiProperty({ type: [RegistryPatternsDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(100)
  @EachIs(() => RegistryPatternsDto)
  registries: RegistryPatternsDto[];
  @ApiProperty({
    type: String,
    required: false,
    description: 'Path of a file to show with what is read in it',
  })
  @IsOptional()
  @IsString()
  @MaxLength(4000)
  sample?: string;
}

export class PlaceFiguresDto {
  @ApiProperty({ type: Number, description: 'In which something stands there' }) files: number;
  @ApiProperty({ type: Number }) requirements: number;
}

export class ShapeFiguresDto {
  @ApiProperty({ type: [String], description: 'As the shape has them' }) patterns: string[];
  @ApiProperty({ type: Number }) files: number;
  @ApiProperty({ type: [String], description: 'The first of them' }) paths: string[];
  @ApiProperty({ type: Number, description: "That say their project's name" }) named: number;
  @ApiProperty({ type: [PlaceFiguresDto] }) places: PlaceFiguresDto[];
  @ApiProperty({ type: Number, description: 'Requirements that are no ranges' }) foreign: number;
  @ApiProperty({ type: [String], description: 'The first files in which it reads nothing' })
  empty: string[];
  @ApiProperty({ type: Number }) emptyCount: number;
}

export class UnresolvedDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String, description: 'As the file has it' }) text: string;
  @ApiProperty({ type: String }) file: string;
  @ApiProperty({ type: Number }) line: number;
}

export class WorkspaceFiguresDto {
  @ApiProperty({ type: Number }) projects: number;
  @ApiProperty({ type: Number }) requirements: number;
  @ApiProperty({ type: Number }) packages: number;
  @ApiProperty({ type: [UnresolvedDto], description: 'The first requirements that are no ranges' })
  unresolved: UnresolvedDto[];
  @ApiProperty({ type: Number }) unresolvedCount: number;
}

const MARKS = ['project', 'package', 'range', 'word', 'foreign'] as const;

export class MarkDto {
  @ApiProperty({ type: Number }) start: number;
  @ApiProperty({ type: Number }) end: number;
  @ApiProperty({ enum: MARKS }) kind: (typeof MARKS)[number];
}

export class SampleLineDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: String, description: 'As the file has it' }) text: string;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'A range, shared or workspace; null: it is no range',
  })
  written: string | null;
  @ApiProperty({ type: String, nullable: true }) agreed: string | null;
  @ApiProperty({ type: Number }) line: number;
  @ApiProperty({ type: Number }) column: number;
}

export class SampleDto {
  @ApiProperty({ type: String }) path: string;
  @ApiProperty({ type: String }) text: string;
  @ApiProperty({ type: Boolean, description: 'The text goes on' }) isCut: boolean;
  @ApiProperty({ type: Number, description: 'Index of the shape that reads it' }) shape: number;
  @ApiProperty({ type: String, nullable: true }) project: string | null;
  @ApiProperty({ type: [MarkDto] }) marks: MarkDto[];
  @ApiProperty({ type: [SampleLineDto] }) lines: SampleLineDto[];
}

/** A repository as shapes read it that are not written yet. */
export class BroughtInDto {
  @ApiProperty({ type: WorkspaceFiguresDto, nullable: true }) workspace: WorkspaceFiguresDto | null;
  @ApiProperty({ type: [ShapeFiguresDto] }) shapes: ShapeFiguresDto[];
  @ApiProperty({ type: Number }) agreed: number;
  @ApiProperty({ type: Number, description: 'Versions that are installed by other means' })
  adopted: number;
  @ApiProperty({ type: [PlacedProblemDto] }) problems: PlacedProblemDto[];
  @ApiProperty({ type: Number }) problemCount: number;
  @ApiProperty({ type: SampleDto, nullable: true }) sample: SampleDto | null;
}

export class BroughtInRegistryDto extends RegistryPatternsDto {
  @ApiProperty({
    type: String,
    required: false,
    description: 'http or https; when absent, the one that is known',
  })
  @IsOptional()
  @RegistryUrl()
  address?: string;
  @AccessToken() token?: string;
}

export class PrepareDto extends ShapesTextDto {
  @ApiProperty({ type: String, description: 'Of the workspace' })
  @IsString()
  @MaxLength(300)
  name: string;
  @ApiProperty({ type: [BroughtInRegistryDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(100)
  @EachIs(() => BroughtInRegistryDto)
  registries: BroughtInRegistryDto[];
}

export class TryDto extends ShapesTextDto {
  @ApiProperty({ type: String, description: 'Of the registry' })
  @IsString()
  @MaxLength(200)
  name: string;
  @ApiProperty({ type: String }) @RegistryUrl() address: string;
  @AccessToken() token?: string;
  @ApiProperty({
    type: String,
    required: false,
    description: 'Where documents are, as /p/{name}, where the shapes do not say it',
  })
  @IsOptional()
  @IsString()
  @Matches(/^\/\S*\{\+?name\}\S*$/, { message: 'Write a path with {name} in it, as /p/{name}.' })
  @MaxLength(1000)
  path?: string;
  @ApiProperty({ type: String, description: 'A package that it should have' })
  @IsString()
  @IsNotEmpty()
  @MaxLength(300)
  package: string;
  @ApiProperty({ enum: VERSION_SCHEMES, description: 'How it writes versions' })
  @IsIn(VERSION_SCHEMES)
  versions: VersionScheme;
}

/** How a registry speaks. A part that is not found is empty. */
export class RegistryFormDto {
  @ApiProperty({ type: String }) registry: string;
  @ApiProperty({ type: String }) document: string;
  @ApiProperty({ type: String }) releases: string;
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String }) published: string;
  @ApiProperty({ type: String }) licence: string;
  @ApiProperty({ type: String }) needs: string;
  @ApiProperty({ type: String }) optional: string;
  @ApiProperty({ type: String }) deprecated: string;
  @ApiProperty({ type: String }) url: string;
  @ApiProperty({ type: String }) integrity: string;
}

/** What a registry answers for a package, and what is read of it. */
export class TriedDocumentDto {
  @ApiProperty({ type: String, description: 'Where it was asked for' }) address: string;
  @ApiProperty({ type: String, nullable: true, description: 'Null: it has no such package' })
  document: string | null;
  @ApiProperty({ type: Boolean, description: 'The document goes on' }) isCut: boolean;
  @ApiProperty({ type: Number, nullable: true, description: 'Null: it cannot be read' })
  releases: number | null;
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
  @ApiProperty({ type: Number, description: 'What its newest release requires' }) needs: number;
  @ApiProperty({ type: String, nullable: true, description: 'Why it cannot be read' }) trouble:
    | string
    | null;
  @ApiProperty({
    type: RegistryFormDto,
    nullable: true,
    description: 'A shape by which it could be read, where it cannot be read as it is',
  })
  proposed: RegistryFormDto | null;
}
