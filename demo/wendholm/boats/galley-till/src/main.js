import * as skerryLog from 'Skerry.Log';
import * as kelpJson from 'kelp-json';
import * as anemoneWidgets from 'anemone-widgets';
import * as gunwaleGrid from 'gunwale-grid';
import * as tillRules from '@house/till-rules';

export const parts = [skerryLog, kelpJson, anemoneWidgets, gunwaleGrid, tillRules];
