import { ApiProperty } from '@nestjs/swagger';
import {
  REQUIREMENT_KINDS,
  VERSION_STEPS,
  type CopiesPolicy,
  type PrereleasePolicy,
  type RequirementKind,
  type VersionStep,
} from '@deep-ledger/core';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsNotEmpty,
  IsString,
  MaxLength,
} from 'class-validator';
import { PlaceDto } from '../problems/problem.dto.js';
import { EachIs } from '../problems/each-is.js';

/** A package that something is agreed on for. */
export class AgreedPackageDto {
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ type: Number, description: 'Projects that require it' }) usedBy: number;
  @ApiProperty({ type: Number, description: 'Projects that take it' }) takes: number;
  @ApiProperty({ type: Number }) off: number;
  @ApiProperty({ type: Number }) exceptions: number;
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class LockstepDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ type: [AgreedPackageDto] }) packages: AgreedPackageDto[];
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class EverywhereLineDto {
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: [String], description: 'Names or folders of projects' }) except: string[];
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class PinLineDto {
  @ApiProperty({ type: [String], description: 'Names or folders of projects that are left out' })
  except: string[];
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String, nullable: true }) newest: string | null;
  @ApiProperty({ type: Number, description: 'Projects that require it themselves' }) usedBy: number;
  @ApiProperty({ type: Number, description: 'Demands of copies on it' }) demands: number;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class ExceptionLineDto {
  @ApiProperty({ type: String }) project: string;
  @ApiProperty({ type: String, nullable: true, description: 'Null: no such project' }) folder:
    | string
    | null;
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ type: String }) reason: string;
  @ApiProperty({ type: String }) owner: string;
  @ApiProperty({ type: String, format: 'date' }) until: string;
  @ApiProperty({ type: Number, description: 'Below 0: it has lapsed' }) daysLeft: number;
  @ApiProperty({ type: Boolean, description: 'The project requires just that range' })
  isUsed: boolean;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class OtherwiseLineDto {
  @ApiProperty({ type: String, description: 'The package whose releases ask' }) of: string;
  @ApiProperty({ type: String, description: 'What they ask for' }) package: string;
  @ApiProperty({ type: String, description: 'What is answered in place of it' }) range: string;
  @ApiProperty({ type: [String], description: 'What its copies ask for, each once' })
  asks: string[];
  @ApiProperty({ type: String }) reason: string;
  @ApiProperty({ type: String }) owner: string;
  @ApiProperty({ type: String, format: 'date' }) until: string;
  @ApiProperty({ type: Number, description: 'Below 0: it has lapsed' }) daysLeft: number;
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class AcceptedLineDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ type: String }) title: string;
  @ApiProperty({ type: String }) url: string;
  @ApiProperty({ type: String }) by: string;
  @ApiProperty({ type: String, format: 'date' }) on: string;
  @ApiProperty({ type: [String], description: 'Copies that are under them as they read then' })
  copies: string[];
  @ApiProperty({ type: PlaceDto }) place: PlaceDto;
}

export class PackagePolicyDto {
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ enum: ['any', 'one-per-major', 'one'] }) copies: CopiesPolicy;
  @ApiProperty({ enum: ['named', 'never', 'always'] }) prereleases: PrereleasePolicy;
  @ApiProperty({ type: Number }) minimumAgeDays: number;
}

export class PolicyDto {
  @ApiProperty({ enum: ['any', 'one-per-major', 'one'] }) copies: CopiesPolicy;
  @ApiProperty({ enum: ['named', 'never', 'always'] }) prereleases: PrereleasePolicy;
  @ApiProperty({ type: Number }) minimumAgeDays: number;
  @ApiProperty({ enum: ['report', 'strict'] }) peers: 'report' | 'strict';
  @ApiProperty({ enum: ['declared-only', 'allowed'] }) transitiveUse: 'declared-only' | 'allowed';
  @ApiProperty({ enum: ['reported', 'refused'] }) ownRanges: 'reported' | 'refused';
  @ApiProperty({ type: [String], description: 'None: any' }) licences: string[];
  @ApiProperty({ type: [PackagePolicyDto] }) ofPackage: PackagePolicyDto[];
}

export class OfferDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) version: string;
}

export class SetSuggestionDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: [String] }) packages: string[];
  @ApiProperty({ enum: ['released together', 'require each other at equal versions'] }) why:
    | 'released together'
    | 'require each other at equal versions';
}

export class SharedDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [AgreedPackageDto], description: 'Those in no set' })
  shared: AgreedPackageDto[];
  @ApiProperty({ type: [LockstepDto] }) sets: LockstepDto[];
  @ApiProperty({ type: [SetSuggestionDto] }) suggestions: SetSuggestionDto[];
  @ApiProperty({ type: [EverywhereLineDto] }) everywhere: EverywhereLineDto[];
  @ApiProperty({ type: [PinLineDto] }) pins: PinLineDto[];
  @ApiProperty({ type: [ExceptionLineDto] }) exceptions: ExceptionLineDto[];
  @ApiProperty({ type: [AcceptedLineDto], description: 'Terms that are accepted' })
  accepted: AcceptedLineDto[];
  @ApiProperty({
    type: [OtherwiseLineDto],
    description: 'What is answered otherwise than releases ask',
  })
  otherwise: OtherwiseLineDto[];
  @ApiProperty({ type: PolicyDto }) policy: PolicyDto;
  @ApiProperty({ type: [OfferDto] }) platform: OfferDto[];
  @ApiProperty({ type: [String] }) targets: string[];
}

export class CentralisingMoveDto {
  @ApiProperty({ type: String, description: 'Folder' }) project: string;
  @ApiProperty({ enum: REQUIREMENT_KINDS }) kind: RequirementKind;
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ type: String, nullable: true }) from: string | null;
  @ApiProperty({ type: String, nullable: true }) to: string | null;
  @ApiProperty({ enum: VERSION_STEPS }) step: VersionStep;
}

export class CentralisingChoiceDto {
  @ApiProperty({ type: String }) range: string;
  @ApiProperty({ type: [String], description: 'Folders of projects that write just this' })
  takes: string[];
  @ApiProperty({ type: [CentralisingMoveDto] }) moves: CentralisingMoveDto[];
  @ApiProperty({ type: Boolean, description: 'Every copy stays as it is' }) isStill: boolean;
}

export class CentralisingLineDto {
  @ApiProperty({ type: String }) package: string;
  @ApiProperty({ type: String, nullable: true, description: 'Suggested lockstep set' }) set:
    | string
    | null;
  @ApiProperty({ type: String, nullable: true, description: 'What is agreed on already' }) agreed:
    | string
    | null;
  @ApiProperty({ type: [CentralisingChoiceDto], description: 'The best first' })
  choices: CentralisingChoiceDto[];
}

export class CentralisingDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [CentralisingLineDto] }) lines: CentralisingLineDto[];
  @ApiProperty({ type: [SetSuggestionDto] }) sets: SetSuggestionDto[];
}

export class ChosenLineDto {
  @ApiProperty({ type: String }) @IsString() @IsNotEmpty() @MaxLength(200) package: string;
  @ApiProperty({ type: String }) @IsString() @IsNotEmpty() @MaxLength(300) range: string;
}

export class CentralisingChosenDto {
  @ApiProperty({ type: [ChosenLineDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(5000)
  @EachIs(() => ChosenLineDto)
  lines: ChosenLineDto[];

  @ApiProperty({ type: [String], description: 'Names of suggested sets to be made' })
  @IsArray()
  @IsString({ each: true })
  sets: string[];
}
