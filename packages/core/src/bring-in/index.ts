export { readBroughtIn, type BroughtIn, type ShapeFigures } from './read-brought-in.js';
export { type Mark, type Sample, type SampleLine } from './read-sample.js';
export { rootText } from './root-text.js';
