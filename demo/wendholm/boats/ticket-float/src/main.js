import * as skerryLog from 'Skerry.Log';
import * as kelpJson from 'kelp-json';
import * as gannetHttp from 'gannet-http';
import * as fulmarCache from 'fulmar-cache';
import * as fairleadAuth from 'fairlead-auth';
import * as bladderwrackForms from 'bladderwrack-forms';
import * as tillRules from '@house/till-rules';
import * as periwinkleIds from 'periwinkle-ids';

export const parts = [
  skerryLog,
  kelpJson,
  gannetHttp,
  fulmarCache,
  fairleadAuth,
  bladderwrackForms,
  tillRules,
  periwinkleIds,
];
