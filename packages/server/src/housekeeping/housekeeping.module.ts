import { Module } from '@nestjs/common';
import { Exclusive } from '../database/exclusive.js';
import { Housekeeping } from './housekeeping.service.js';

@Module({ providers: [Housekeeping, Exclusive] })
export class HousekeepingModule {}
