import * as skerryLog from 'Skerry.Log';
import * as kelpJson from 'kelp-json';
import * as sandbarState from 'sandbar-state';
import * as tomboloRouter from 'tombolo-router';
import * as crewHours from '@house/crew-hours';
import * as dogwatchCron from 'dogwatch-cron';

export const parts = [skerryLog, kelpJson, sandbarState, tomboloRouter, crewHours, dogwatchCron];
