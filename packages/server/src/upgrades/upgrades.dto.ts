import { ApiProperty } from '@nestjs/swagger';
import { Transform, Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  Max,
  MaxLength,
  Min,
} from 'class-validator';
import {
  REQUIREMENT_KINDS,
  UPGRADE_KINDS,
  VERSION_STEPS,
  type RequirementKind,
  type UpgradeKind,
  type VersionStep,
} from '@deep-ledger/core';
import { MoveDto } from '../drafts/edit.dto.js';
import { EachIs } from '../problems/each-is.js';

const MOST_DAYS = 3650;
const MOST_TRIALS = 200;

const asBoolean = ({ value }: { value: unknown }): boolean => value === 'true' || value === true;

function OlderThan(): PropertyDecorator {
  return (target, key) => {
    ApiProperty({ type: Number, required: false, description: 'Days that a release must be old' })(
      target,
      key,
    );
    Type(() => Number)(target, key);
    IsInt()(target, key);
    Min(0)(target, key);
    Max(MOST_DAYS)(target, key);
  };
}

export class UpgradesQuery {
  @OlderThan() olderThan = 0;
}

export class NewerReleaseDto {
  @ApiProperty({ type: String }) version: string;
  @ApiProperty({ type: String }) published: string;
  @ApiProperty({ enum: VERSION_STEPS }) step: VersionStep;
  @ApiProperty({ type: String, nullable: true, description: 'Why it cannot be taken at all' })
  why: string | null;
}

export class UpgradeOfferDto {
  @ApiProperty({ type: String, description: 'Of a package or a lockstep set' }) name: string;
  @ApiProperty({ enum: UPGRADE_KINDS }) kind: UpgradeKind;
  @ApiProperty({ type: String }) to: string;
  @ApiProperty({ type: String }) published: string;
  @ApiProperty({ type: [MoveDto] }) moves: MoveDto[];
}

export class UpgradeRowDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: [String] }) packages: string[];
  @ApiProperty({ type: Boolean }) isSet: boolean;
  @ApiProperty({ type: Boolean, description: 'A project requires it itself' }) isDirect: boolean;
  @ApiProperty({ type: [String], description: 'Folders of projects that require it themselves' })
  projects: string[];
  @ApiProperty({ type: [String], description: 'Who answers for those projects' })
  owners: string[];
  @ApiProperty({ enum: REQUIREMENT_KINDS, isArray: true, description: 'As what they require it' })
  kinds: RequirementKind[];
  @ApiProperty({ type: String }) from: string;
  @ApiProperty({ type: [String], description: 'Other releases in use' }) others: string[];
  @ApiProperty({ type: String, nullable: true, description: 'The day of the release in use' })
  since: string | null;
  @ApiProperty({ type: [NewerReleaseDto] }) newer: NewerReleaseDto[];
  @ApiProperty({ type: [UpgradeOfferDto] }) offers: UpgradeOfferDto[];
  @ApiProperty({ type: String, nullable: true }) pin: string | null;
  @ApiProperty({ type: Boolean }) isExcepted: boolean;
  @ApiProperty({ type: String, nullable: true }) deprecated: string | null;
}

export class UpgradesDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: String }) today: string;
  @ApiProperty({ type: [UpgradeRowDto] }) rows: UpgradeRowDto[];
}

export class UpgradePriceDto {
  @ApiProperty({ type: Number, description: 'Hand-written files that change' }) files: number;
  @ApiProperty({ type: Number }) moved: number;
  @ApiProperty({ type: Number }) entered: number;
  @ApiProperty({ type: Number }) left: number;
  @ApiProperty({ type: Number, description: 'Of the archives, more or fewer than now' })
  bytes: number;
}

export class UpgradeTrialDto {
  @ApiProperty({ type: [String], description: 'Sentences; none: it can be taken' })
  against: string[];
  @ApiProperty({ type: UpgradePriceDto, nullable: true, description: 'Null: there is no answer' })
  price: UpgradePriceDto | null;
}

/** Moves that are made together. */
export class MovesDto {
  @ApiProperty({ type: [MoveDto] })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(5000)
  @EachIs(() => MoveDto)
  moves: MoveDto[];
}

export class TryUpgradesDto {
  @ApiProperty({ type: [MovesDto], description: 'Each is tried by itself' })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(MOST_TRIALS)
  @EachIs(() => MovesDto)
  upgrades: MovesDto[];
}

export class BatchQuery extends UpgradesQuery {
  @ApiProperty({ enum: UPGRADE_KINDS, description: 'How large a step may be' })
  @IsIn(UPGRADE_KINDS)
  take: UpgradeKind;
  @ApiProperty({
    type: Boolean,
    required: false,
    description: 'Also packages that no project requires itself',
  })
  @Transform(asBoolean)
  @IsBoolean()
  all = false;
  @ApiProperty({
    type: String,
    required: false,
    description: 'Folder of a project that requires it',
  })
  @IsOptional()
  @IsString()
  @MaxLength(1000)
  project?: string;
  @ApiProperty({
    type: String,
    required: false,
    description: 'Who answers for a project that requires it',
  })
  @IsOptional()
  @IsString()
  @MaxLength(1000)
  owner?: string;
  @ApiProperty({ enum: REQUIREMENT_KINDS, required: false, description: 'As what it is required' })
  @IsOptional()
  @IsIn([...REQUIREMENT_KINDS])
  as?: RequirementKind;
  @ApiProperty({ type: Boolean, required: false, description: 'Lockstep sets alone' })
  @Transform(asBoolean)
  @IsBoolean()
  sets = false;
}

export class LeftOutUpgradeDto {
  @ApiProperty({ type: UpgradeOfferDto }) offer: UpgradeOfferDto;
  @ApiProperty({ type: [String] }) against: string[];
}

export class UpgradeBatchDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: Number, description: 'Packages and sets that it is about' }) of: number;
  @ApiProperty({ type: [UpgradeOfferDto] }) offers: UpgradeOfferDto[];
  @ApiProperty({ type: [LeftOutUpgradeDto] }) left: LeftOutUpgradeDto[];
  @ApiProperty({ type: UpgradePriceDto, nullable: true }) price: UpgradePriceDto | null;
}
