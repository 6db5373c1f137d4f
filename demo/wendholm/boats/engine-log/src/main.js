import * as skerryLog from 'Skerry.Log';
import * as eddylineQueue from 'eddyline-queue';
import * as lugwormRetry from 'lugworm-retry';
import * as bilgeMetrics from 'bilge-metrics';
import * as shoalUnits from 'shoal-units';
import * as fogCodes from '@house/fog-codes';

export const parts = [skerryLog, eddylineQueue, lugwormRetry, bilgeMetrics, shoalUnits, fogCodes];
