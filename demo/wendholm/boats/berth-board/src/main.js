import * as skerryLog from 'Skerry.Log';
import * as tideTables from '@house/tide-tables';
import * as kelpJson from 'kelp-json';
import * as anemoneWidgets from 'anemone-widgets';
import * as saltmarshTheme from 'saltmarsh-theme';

export const parts = [skerryLog, tideTables, kelpJson, anemoneWidgets, saltmarshTheme];
