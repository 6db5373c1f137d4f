import { applyDecorators, type Type as Class } from '@nestjs/common';
import { ApiProperty, getSchemaPath } from '@nestjs/swagger';
import {
  NAME,
  NAME_WORDS,
  ORDER_TAKES,
  ORDER_TARGETS,
  POLICY_SETTINGS,
  REQUIREMENT_KINDS,
  type EditKind,
  type OrderTake,
  type OrderTarget,
  type PolicySetting,
  type RequirementKind,
} from '@deep-ledger/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayNotEmpty,
  Equals,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  ValidateIf,
} from 'class-validator';
import { EachIs } from '../problems/each-is.js';

const MOST_ITEMS = 5000;

export const PACKAGE_NAME_WORDS = `write the name of a package, such as tarn-json. ${NAME_WORDS}`;

function Kind(kind: EditKind): PropertyDecorator {
  return applyDecorators(ApiProperty({ enum: [kind] }), Equals(kind));
}

function PackageName(): PropertyDecorator {
  return applyDecorators(
    ApiProperty({ type: String }),
    Matches(NAME, { message: PACKAGE_NAME_WORDS }),
  );
}

function Text(longest = 300): PropertyDecorator {
  return applyDecorators(
    ApiProperty({ type: String }),
    IsString(),
    IsNotEmpty(),
    MaxLength(longest),
  );
}

function Texts(...more: readonly PropertyDecorator[]): PropertyDecorator {
  return applyDecorators(
    ApiProperty({ type: [String] }),
    IsArray(),
    ArrayMaxSize(MOST_ITEMS),
    IsString({ each: true }),
    ...more,
  );
}

function RequirementKindOf(): PropertyDecorator {
  return applyDecorators(ApiProperty({ enum: REQUIREMENT_KINDS }), IsIn([...REQUIREMENT_KINDS]));
}

export class SetSharedDto {
  @Kind('set-shared') kind: 'set-shared';
  @PackageName() package: string;
  @Text() range: string;
}

export class LevelPackageDto {
  @Kind('level') kind: 'level';
  @PackageName() package: string;
  @Text() range: string;
  @Texts(ArrayNotEmpty()) projects: string[];
}

export class MoveDto {
  @PackageName() package: string;
  @ApiProperty({ type: String, description: 'The release in use that it goes up from' })
  @IsString()
  @IsNotEmpty()
  @MaxLength(300)
  from: string;
  @Text() to: string;
}

export class UpgradeDto {
  @Kind('upgrade') kind: 'upgrade';
  @ApiProperty({ type: [MoveDto], description: 'Of a lockstep set one for each member' })
  @IsArray()
  @ArrayNotEmpty()
  @ArrayMaxSize(MOST_ITEMS)
  @EachIs(() => MoveDto)
  moves: MoveDto[];
}

export class TakeSharedDto {
  @Kind('take-shared') kind: 'take-shared';
  @PackageName() package: string;
  @Texts(ArrayNotEmpty()) projects: string[];
}

export class RetireSharedDto {
  @Kind('retire-shared') kind: 'retire-shared';
  @PackageName() package: string;
}

export class SetRangeDto {
  @Kind('set-range') kind: 'set-range';
  @PackageName() package: string;
  @Text() range: string;
  @Texts(ArrayNotEmpty()) projects: string[];
}

export class AddRequirementDto {
  @Kind('add-requirement') kind: 'add-requirement';
  @PackageName() package: string;
  @Text() range: string;
  @RequirementKindOf() as: RequirementKind;
  @Texts(ArrayNotEmpty()) projects: string[];
}

export class RemoveRequirementDto {
  @Kind('remove-requirement') kind: 'remove-requirement';
  @PackageName() package: string;
  @Texts(ArrayNotEmpty()) projects: string[];
}

export class ChangeKindDto {
  @Kind('change-kind') kind: 'change-kind';
  @PackageName() package: string;
  @RequirementKindOf() as: RequirementKind;
  @Texts(ArrayNotEmpty()) projects: string[];
}

export class MakeSetDto {
  @Kind('make-set') kind: 'make-set';
  @Text(100) set: string;
  @Text() range: string;
  @Texts(ArrayNotEmpty()) packages: string[];
}

export class DissolveSetDto {
  @Kind('dissolve-set') kind: 'dissolve-set';
  @Text(100) set: string;
}

export class EverywhereDto {
  @Kind('everywhere') kind: 'everywhere';
  @PackageName() package: string;
  @Text() range: string;
  @RequirementKindOf() as: RequirementKind;
  @Texts() except: string[];
}

export class NotEverywhereDto {
  @Kind('not-everywhere') kind: 'not-everywhere';
  @PackageName() package: string;
}

export class PinDto {
  @Kind('pin') kind: 'pin';
  @PackageName() package: string;
  @Text() version: string;
  @ApiProperty({ type: [String], required: false, description: 'Projects that are left out' })
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(MOST_ITEMS)
  @IsString({ each: true })
  except?: string[];
}

export class UnpinDto {
  @Kind('unpin') kind: 'unpin';
  @PackageName() package: string;
}

export class GrantExceptionDto {
  @Kind('grant-exception') kind: 'grant-exception';
  @Text() project: string;
  @PackageName() package: string;
  @Text() range: string;
  @Text(500) reason: string;
  @Text(200) owner: string;
  @Text(10) until: string;
}

export class EndExceptionDto {
  @Kind('end-exception') kind: 'end-exception';
  @Text() project: string;
  @PackageName() package: string;
}

export class AnswerOtherwiseDto {
  @Kind('answer-otherwise') kind: 'answer-otherwise';
  @PackageName() of: string;
  @PackageName() package: string;
  @Text() range: string;
  @Text(500) reason: string;
  @Text(200) owner: string;
  @Text(10) until: string;
}

export class EndOtherwiseDto {
  @Kind('end-otherwise') kind: 'end-otherwise';
  @PackageName() of: string;
  @PackageName() package: string;
}

export class SetPolicyDto {
  @Kind('set-policy') kind: 'set-policy';
  @ApiProperty({ type: String, nullable: true, description: 'Null: for the workspace' })
  @ValidateIf((_, value) => value !== null)
  @Matches(NAME, { message: `${PACKAGE_NAME_WORDS} Null means all packages.` })
  package: string | null;
  @ApiProperty({ enum: POLICY_SETTINGS }) @IsIn([...POLICY_SETTINGS]) setting: PolicySetting;
  @ApiProperty({ type: String, description: 'Days in digits, licences parted by commas' })
  @IsString()
  @MaxLength(2000)
  value: string;
}

export class SetStandingDto {
  @Kind('set-standing') kind: 'set-standing';
  @Text(100) name: string;
  @Text(100) every: string;
  @ApiProperty({ enum: ORDER_TAKES }) @IsIn([...ORDER_TAKES]) take: OrderTake;
  @ApiProperty({ type: Number, description: 'Days that a release must be old' })
  @IsInt()
  @Min(0)
  @Max(3650)
  olderThanDays: number;
  @Texts() packages: string[];
  @Texts() except: string[];
  @ApiProperty({ enum: ORDER_TARGETS }) @IsIn([...ORDER_TARGETS]) to: OrderTarget;
}

export class EndStandingDto {
  @Kind('end-standing') kind: 'end-standing';
  @Text(100) name: string;
}

export class SetPlatformDto {
  @Kind('set-platform') kind: 'set-platform';
  @Text(100) name: string;
  @Text(100) version: string;
}

export class RefreshDto {
  @Kind('refresh') kind: 'refresh';
  @Texts() packages: string[];
}

export class PutBackDto {
  @Text(1000) file: string;
  @Texts(ArrayNotEmpty()) path: string[];
  @ApiProperty({ type: String, nullable: true })
  @IsOptional()
  @IsString()
  found: string | null;
  @ApiProperty({ type: String, nullable: true })
  @IsOptional()
  @IsString()
  source: string | null;
  @ApiProperty({ type: Boolean }) @IsBoolean() isBlock: boolean;
}

export class EarlierAnswerDto {
  @Text(1000) owner: string;
  @ApiProperty({ type: Boolean }) @IsBoolean() isProject: boolean;
  @RequirementKindOf() kind: RequirementKind;
  @PackageName() name: string;
  @Text() range: string;
  @Text() version: string;
}

export class TakeBackDto {
  @Kind('take-back') kind: 'take-back';
  @ApiProperty({ type: String }) @Matches(/^[0-9a-f]{40,64}$/) commit: string;
  @ApiProperty({
    type: String,
    required: false,
    description:
      'This and what follows is worked out from the commit; what is sent counts for nothing',
  })
  @IsOptional()
  @IsString()
  @MaxLength(2000)
  title?: string;
  @ApiProperty({ type: [PutBackDto], required: false })
  @IsOptional()
  @IsArray()
  @EachIs(() => PutBackDto)
  units?: PutBackDto[];
  @ApiProperty({ type: [EarlierAnswerDto], required: false })
  @IsOptional()
  @IsArray()
  @EachIs(() => EarlierAnswerDto)
  answers?: EarlierAnswerDto[];
}

export class BringUpDto {
  @Kind('bring-up') kind: 'bring-up';
}

export class RePickDto {
  @Kind('re-pick') kind: 're-pick';
  @PackageName() package: string;
  @Text() from: string;
  @Text() to: string;
}

export class TakeIntegrityDto {
  @Kind('take-integrity') kind: 'take-integrity';
  @PackageName() package: string;
  @Text() version: string;
  @Text(1000) integrity: string;
}

export class BelieveUseDto {
  @Kind('believe-use') kind: 'believe-use';
  @PackageName() package: string;
  @Text(1000) project: string;
}

export class MuteDto {
  @Kind('mute') kind: 'mute';
  @Text(2000) finding: string;
  @Text(1000) reason: string;
  @Text() owner: string;
  @Text() until: string;
}

export class UnmuteDto {
  @Kind('unmute') kind: 'unmute';
  @Text(2000) finding: string;
}

export class AcceptTermsDto {
  @Kind('accept-terms') kind: 'accept-terms';
  @Text() id: string;
  @Text() title: string;
  @Text() url: string;
  @ApiProperty({
    type: String,
    required: false,
    description:
      'This and the day are those of whoever adds the edit; what is sent counts for nothing',
  })
  @IsOptional()
  @IsString()
  @MaxLength(300)
  by?: string;
  @ApiProperty({ type: String, required: false })
  @IsOptional()
  @IsString()
  @MaxLength(10)
  on?: string;
}

export class EndAcceptanceDto {
  @Kind('end-acceptance') kind: 'end-acceptance';
  @Text() id: string;
}

export type EditDto =
  | SetSharedDto
  | LevelPackageDto
  | UpgradeDto
  | TakeSharedDto
  | RetireSharedDto
  | SetRangeDto
  | AddRequirementDto
  | RemoveRequirementDto
  | ChangeKindDto
  | MakeSetDto
  | DissolveSetDto
  | EverywhereDto
  | NotEverywhereDto
  | PinDto
  | UnpinDto
  | GrantExceptionDto
  | EndExceptionDto
  | AnswerOtherwiseDto
  | EndOtherwiseDto
  | SetPolicyDto
  | SetPlatformDto
  | SetStandingDto
  | EndStandingDto
  | RefreshDto
  | BringUpDto
  | RePickDto
  | TakeIntegrityDto
  | BelieveUseDto
  | MuteDto
  | UnmuteDto
  | AcceptTermsDto
  | EndAcceptanceDto
  | TakeBackDto;

/** The class that checks each kind of edit. */
const CLASSES: Readonly<Record<EditKind, Class<EditDto>>> = {
  'set-shared': SetSharedDto,
  level: LevelPackageDto,
  upgrade: UpgradeDto,
  'take-shared': TakeSharedDto,
  'retire-shared': RetireSharedDto,
  'set-range': SetRangeDto,
  'add-requirement': AddRequirementDto,
  'remove-requirement': RemoveRequirementDto,
  'change-kind': ChangeKindDto,
  'make-set': MakeSetDto,
  'dissolve-set': DissolveSetDto,
  everywhere: EverywhereDto,
  'not-everywhere': NotEverywhereDto,
  pin: PinDto,
  unpin: UnpinDto,
  'grant-exception': GrantExceptionDto,
  'end-exception': EndExceptionDto,
  'answer-otherwise': AnswerOtherwiseDto,
  'end-otherwise': EndOtherwiseDto,
  'set-policy': SetPolicyDto,
  'set-platform': SetPlatformDto,
  'set-standing': SetStandingDto,
  'end-standing': EndStandingDto,
  refresh: RefreshDto,
  'bring-up': BringUpDto,
  're-pick': RePickDto,
  'take-integrity': TakeIntegrityDto,
  'believe-use': BelieveUseDto,
  mute: MuteDto,
  unmute: UnmuteDto,
  'accept-terms': AcceptTermsDto,
  'end-acceptance': EndAcceptanceDto,
  'take-back': TakeBackDto,
};
const KINDS = Object.keys(CLASSES);

export const EDIT_CLASSES = Object.values(CLASSES);

/** An edit as OpenAPI tells it. */
export const EDIT_SCHEMA = {
  oneOf: EDIT_CLASSES.map((one) => ({ $ref: getSchemaPath(one) })),
  discriminator: {
    propertyName: 'kind',
    mapping: Object.fromEntries(
      Object.entries(CLASSES).map(([kind, one]) => [kind, getSchemaPath(one)]),
    ),
  },
};

class UnknownEdit {
  @IsIn(KINDS, { message: `choose one of ${KINDS.join(', ')}.` }) kind: string;
}

/** Lets the kind of an edit decide which class checks the rest. */
export function ByEditKind(): PropertyDecorator {
  return Type(() => UnknownEdit, {
    keepDiscriminatorProperty: true,
    discriminator: {
      property: 'kind',
      subTypes: Object.entries(CLASSES).map(([name, value]) => ({ value, name })),
    },
  });
}
