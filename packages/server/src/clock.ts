import { Inject, Injectable } from '@nestjs/common';
import { SETTINGS, type Settings } from './settings.js';

/** The only place that asks what time it is. */
@Injectable()
export class Clock {
  constructor(@Inject(SETTINGS) private readonly settings: Settings) {}

  now(): Date {
    return new Date();
  }

  /** YYYY-MM-DD, in UTC. */
  today(): string {
    return this.settings.today ?? this.now().toISOString().slice(0, 10);
  }
}
