/** Measures of the chart in the package panel in its own units, which are pixels on a phone and no smaller elsewhere. */
export interface ChartMeasures {
  /** The names at the left. */
  readonly label: number;
  /** The line of releases. */
  readonly length: number;
  /** Where the column of ranges begins: nothing can lie over them. */
  readonly ranges: number;
  readonly width: number;
  /** Letters of a range that have room; the whole range is told on hovering. */
  readonly letters: number;
}

export const HEAD = 32;
export const LINE = 22;

export const USUAL_CHART: ChartMeasures = {
  label: 128,
  length: 306,
  ranges: 448,
  width: 568,
  letters: 18,
};

/** Where the usual one would be drawn so small that its letters cannot be read. */
export const PHONE_CHART: ChartMeasures = {
  label: 122,
  length: 112,
  ranges: 244,
  width: 346,
  letters: 15,
};
