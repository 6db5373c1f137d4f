import { ApiProperty } from '@nestjs/swagger';
import { ORDER_TAKES, ORDER_TARGETS, type OrderTake, type OrderTarget } from '@deep-ledger/core';
import type { RunState } from './standing.entity.js';

export class StandingRunDto {
  @ApiProperty({ type: String }) id: string;
  @ApiProperty({ type: String, nullable: true, description: 'Null: somebody ran it' })
  due: string | null;
  @ApiProperty({ type: String, nullable: true, description: 'Who ran it by hand' }) by:
    | string
    | null;
  @ApiProperty({ enum: ['running', 'draft', 'branch', 'nothing', 'failed'] }) state: RunState;
  @ApiProperty({ type: Number }) taken: number;
  @ApiProperty({ type: Number }) leftOut: number;
  @ApiProperty({ type: String, nullable: true }) draftId: string | null;
  @ApiProperty({ type: Boolean, description: 'The draft is still open' }) isDraftOpen: boolean;
  @ApiProperty({ type: String, nullable: true }) commit: string | null;
  @ApiProperty({ type: String, nullable: true, description: 'A sentence' }) says: string | null;
  @ApiProperty({ type: String }) beganAt: string;
  @ApiProperty({ type: String, nullable: true }) endedAt: string | null;
}

export class StandingOrderDto {
  @ApiProperty({ type: String }) name: string;
  @ApiProperty({ type: String }) every: string;
  @ApiProperty({ enum: ORDER_TAKES }) take: OrderTake;
  @ApiProperty({ type: Number }) olderThanDays: number;
  @ApiProperty({ type: [String] }) packages: string[];
  @ApiProperty({ type: [String] }) except: string[];
  @ApiProperty({ enum: ORDER_TARGETS }) to: OrderTarget;
  @ApiProperty({ type: String, nullable: true, description: 'When it is due next' })
  next: string | null;
  @ApiProperty({ type: [StandingRunDto], description: 'The newest first' }) runs: StandingRunDto[];
}

export class StandingDto {
  @ApiProperty({ type: String }) commit: string;
  @ApiProperty({ type: [StandingOrderDto] }) orders: StandingOrderDto[];
}
