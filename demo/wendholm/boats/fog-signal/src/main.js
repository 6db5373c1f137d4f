import * as skerryLog from 'Skerry.Log';
import * as foghornTone from 'foghorn-tone';
import * as tholeEvents from 'thole-events';
import * as fogCodes from '@house/fog-codes';
import * as kittiwakeNet from 'kittiwake-net';

export const parts = [skerryLog, foghornTone, tholeEvents, fogCodes, kittiwakeNet];
