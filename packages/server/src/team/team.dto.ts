import { ApiProperty } from '@nestjs/swagger';
import { Transform } from 'class-transformer';
import {
  ArrayNotEmpty,
  ArrayUnique,
  IsBoolean,
  IsEmail,
  IsIn,
  IsOptional,
  IsString,
  Matches,
  MaxLength,
  MinLength,
} from 'class-validator';
import { ROLES, SCOPES, type Role, type Scope } from './capability.js';
import { SHORTEST_PASSWORD } from './passwords.js';

const LONGEST_PASSWORD = 200;

/**
 * A name that can stand in a commit: git takes dots, commas, quotes and blanks off its ends and refuses what is left
 * when nothing is.
 */
const COMMIT_NAME = /^(?=.*[^\s.,:;<>"'\\\p{Cc}])[^<>\p{Cc}]+$/u;

export class SignInDto {
  @ApiProperty({ type: String }) @IsString() @MaxLength(100) name: string;
  @ApiProperty({ type: String }) @IsString() @MaxLength(LONGEST_PASSWORD) password: string;
}

export class PersonDto {
  @ApiProperty({ type: String, description: 'What one signs in with' })
  @Transform(({ value }: { value: unknown }) =>
    typeof value === 'string' ? value.trim().toLowerCase() : value,
  )
  @Matches(/^[a-z0-9](?:[a-z0-9._-]{0,38}[a-z0-9])?$/, {
    message: 'A name to sign in with has small letters, digits, and . _ - between them.',
  })
  name: string;

  @ApiProperty({ type: String, description: 'As it is shown and written into commits' })
  @Matches(COMMIT_NAME, {
    message: 'Write the name to show, with a letter or digit and without < and >.',
  })
  @MaxLength(100)
  shownName: string;

  @ApiProperty({ type: String })
  @IsEmail(
    { require_tld: false },
    { message: 'Write an e-mail address, such as crew@mountain.example.' },
  )
  email: string;
}

export class NewAccountDto extends PersonDto {
  @ApiProperty({ enum: ROLES }) @IsIn(ROLES) role: Role;
}

export class ChangeAccountDto {
  @ApiProperty({ enum: ROLES, required: false }) @IsOptional() @IsIn(ROLES) role?: Role;
  @ApiProperty({ type: Boolean, required: false }) @IsOptional() @IsBoolean() isActive?: boolean;
}

export class PasswordDto {
  @ApiProperty({ type: String })
  @MinLength(SHORTEST_PASSWORD, {
    message: `A password has at least ${SHORTEST_PASSWORD} characters.`,
  })
  @MaxLength(LONGEST_PASSWORD)
  password: string;
}

export class ChangePasswordDto extends PasswordDto {
  @ApiProperty({ type: String, description: 'The present one' })
  @IsString()
  @MaxLength(LONGEST_PASSWORD)
  now: string;
}

export class LookAtLinkDto {
  @ApiProperty({ type: String }) @IsString() @MaxLength(100) secret: string;
}

export class UseLinkDto extends PasswordDto {
  @ApiProperty({ type: String }) @IsString() @MaxLength(100) secret: string;
  @ApiProperty({ type: String, required: false, description: 'Of the first keeper alone' })
  @IsOptional()
  @Matches(/^[a-z0-9](?:[a-z0-9._-]{0,38}[a-z0-9])?$/, {
    message: 'A name to sign in with has small letters, digits, and . _ - between them.',
  })
  name?: string;
  @ApiProperty({ type: String, required: false })
  @IsOptional()
  @Matches(COMMIT_NAME, {
    message: 'Write the name to show, with a letter or digit and without < and >.',
  })
  @MaxLength(100)
  shownName?: string;
  @ApiProperty({ type: String, required: false })
  @IsOptional()
  @IsEmail({ require_tld: false }, { message: 'Write an e-mail address.' })
  email?: string;
}

export class LinkDto {
  @ApiProperty({ type: String, nullable: true, description: "Null: the first keeper's" })
  name: string | null;
}

export class AccountDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) shownName: string;
  @ApiProperty({ type: String }) email: string;
  @ApiProperty({ enum: ROLES }) role: Role;
  @ApiProperty({ type: Boolean }) isActive: boolean;
  @ApiProperty({ type: Boolean, description: 'No password has been chosen yet' })
  isInvited: boolean;
  @ApiProperty({ type: String, format: 'date-time' }) createdAt: string;
}

export class InvitedDto {
  @ApiProperty({ type: AccountDto }) account: AccountDto;
  @ApiProperty({ type: String, description: 'For the link; it is told once' }) secret: string;
}

export class SessionDto {
  @ApiProperty({ type: AccountDto, nullable: true }) account: AccountDto | null;
  @ApiProperty({
    type: String,
    nullable: true,
    description: 'To be sent as x-csrf-token with all that changes something',
  })
  csrf: string | null;
  @ApiProperty({ type: Boolean, description: 'Nobody can sign in yet' }) isEmpty: boolean;
}

export class NewTokenDto {
  @ApiProperty({ type: String })
  @Matches(COMMIT_NAME, {
    message: 'A token has a name, with a letter or digit and without < and >.',
  })
  @MaxLength(100)
  name: string;
  @ApiProperty({ enum: SCOPES, isArray: true })
  @ArrayNotEmpty({ message: 'Choose what the token may do.' })
  @ArrayUnique()
  @IsIn(SCOPES, { each: true })
  scopes: Scope[];
  @ApiProperty({ type: String, format: 'date', description: 'The last day on which it counts' })
  @Matches(/^\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])$/, {
    message: 'Write the last day as in 2026-12-31.',
  })
  lastDay: string;
}

export class TokenDto {
  @ApiProperty({ type: String, format: 'uuid' }) id: string;
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ enum: SCOPES, isArray: true }) scopes: Scope[];
  @ApiProperty({ type: String, format: 'date' }) lastDay: string;
  @ApiProperty({ type: Boolean }) isOver: boolean;
  @ApiProperty({ type: String }) madeBy: string;
  @ApiProperty({ type: String, format: 'date-time' }) createdAt: string;
  @ApiProperty({ type: String, format: 'date-time', nullable: true }) usedAt: string | null;
}

export class MadeTokenDto {
  @ApiProperty({ type: TokenDto }) token: TokenDto;
  @ApiProperty({ type: String, description: 'It is told once' }) secret: string;
}

export class AuditEntryDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ type: String, format: 'date-time' }) at: string;
  @ApiProperty({ enum: ['account', 'token', 'nobody'] }) actorKind: 'account' | 'token' | 'nobody';
  @ApiProperty({ type: String }) actor: string;
  @ApiProperty({ type: String }) action: string;
  @ApiProperty({ type: String, nullable: true }) workspace: string | null;
  @ApiProperty({ type: String, nullable: true }) subject: string | null;
}

export class AuditDto {
  @ApiProperty({ type: [AuditEntryDto] }) entries: AuditEntryDto[];
  @ApiProperty({ type: Boolean }) hasMore: boolean;
}

export class AuditQuery {
  @ApiProperty({ type: String, required: false, description: 'An entry; only what came before it' })
  @IsOptional()
  @Matches(/^\d{1,18}$/, { message: 'An entry is named by its number.' })
  before?: string;

  @ApiProperty({ type: String, required: false })
  @IsOptional()
  @IsString()
  @MaxLength(200)
  workspace?: string;
}
