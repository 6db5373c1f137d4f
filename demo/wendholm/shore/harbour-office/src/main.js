import * as berthPaint from 'berth-paint';
import * as berthMap from '@house/berth-map';
import * as fairleadAuth from 'fairlead-auth';
import * as fulmarCache from 'fulmar-cache';
import * as binnacleConfig from 'binnacle-config';
import * as scupperFs from 'scupper-fs';
import * as petrelTls from 'petrel-tls';

export const parts = [
  berthPaint,
  berthMap,
  fairleadAuth,
  fulmarCache,
  binnacleConfig,
  scupperFs,
  petrelTls,
];
