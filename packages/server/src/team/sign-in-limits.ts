import { Injectable } from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type { DataSource } from 'typeorm';
import { Problem } from '../problems/problem.js';

const WINDOW_S = 15 * 60;
/** Attempts are counted by name and address together, so that a stranger elsewhere locks nobody out. */
const OF_A_NAME = 5;
const OF_AN_ADDRESS = 30;

/** Counts attempts at passwords and one-time links that failed, in the database, so that several servers count together. */
@Injectable()
export class SignInLimits {
  private readonly ofName: RateLimiterPostgres;
  private readonly ofAddress: RateLimiterPostgres;

  constructor(@InjectDataSource() database: DataSource) {
    const common = {
      storeClient: database,
      storeType: 'typeorm',
      tableName: 'sign_in_limit',
      tableCreated: true,
      duration: WINDOW_S,
    };
    this.ofName = new RateLimiterPostgres({ ...common, keyPrefix: 'name', points: OF_A_NAME });
    this.ofAddress = new RateLimiterPostgres({
      ...common,
      keyPrefix: 'address',
      points: OF_AN_ADDRESS,
    });
  }

  /** Takes one attempt. @throws Problem TOO_MANY_ATTEMPTS */
  async attempt(name: string, address: string): Promise<void> {
    try {
      await this.ofAddress.consume(address);
      await this.ofName.consume(pairOf(name, address));
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error;
      const minutes = Math.ceil(error.msBeforeNext / 60_000);
      throw new Problem(
        'TOO_MANY_ATTEMPTS',
        429,
        'Too many attempts',
        `Too many attempts have failed. Try again in ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}.`,
      );
    }
  }

  /** An attempt went well: what failed before under this name is forgotten. */
  async forget(name: string, address: string): Promise<void> {
    await this.ofName.delete(pairOf(name, address));
    await this.ofAddress.reward(address);
  }
}

function pairOf(name: string, address: string): string {
  return `${address} ${name}`;
}
