import * as skerryLog from 'Skerry.Log';
import * as kelpJson from 'kelp-json';
import * as gannetHttp from 'gannet-http';
import * as tideTables from '@house/tide-tables';
import * as seafretColor from 'seafret-color';
import * as samphireCss from 'samphire-css';
import * as cuttleboneText from 'cuttlebone-text';

export const parts = [
  skerryLog,
  kelpJson,
  gannetHttp,
  tideTables,
  seafretColor,
  samphireCss,
  cuttleboneText,
];
