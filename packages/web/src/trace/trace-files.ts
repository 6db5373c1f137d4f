import { packageUrl } from '@deep-ledger/core';
import { saveFile } from '../parts/save-file';
import type { Trace } from '../api/client';
import type { TraceLayout } from './trace-layout';

export const TRACE_FORMATS = ['SVG', 'PNG', 'DOT', 'GraphML'] as const;
export type TraceFormat = (typeof TRACE_FORMATS)[number];

/** Saves what is drawn, or the graph behind it, as a file. */
export async function saveTrace(
  format: TraceFormat,
  title: string,
  trace: Trace,
  layout: TraceLayout,
  svg: SVGSVGElement | null,
): Promise<void> {
  const name = title.toLowerCase().replaceAll(/[^a-z0-9.-]+/g, '-');
  switch (format) {
    case 'DOT':
      return saveFile(`${name}.dot`, new Blob([dotText(trace)], { type: 'text/vnd.graphviz' }));
    case 'GraphML':
      return saveFile(
        `${name}.graphml`,
        new Blob([graphmlText(trace)], { type: 'application/xml' }),
      );
    case 'SVG':
      if (svg !== null)
        saveFile(`${name}.svg`, new Blob([svgText(svg, layout)], { type: 'image/svg+xml' }));
      return;
    case 'PNG':
      if (svg !== null) saveFile(`${name}.png`, await pngOf(svgText(svg, layout), layout));
  }
}

const STYLES = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-opacity',
  'stroke-dasharray',
  'font-family',
  'font-size',
  'font-style',
  'font-weight',
  'text-anchor',
  'text-decoration-line',
  'opacity',
] as const;

/** The whole drawing with its styles written out, so that it looks the same elsewhere. */
function svgText(svg: SVGSVGElement, { width, height }: TraceLayout): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const from = [...svg.querySelectorAll('*')];
  [...copy.querySelectorAll('*')].forEach((element, i) => {
    const style = getComputedStyle(from[i]!);
    for (const key of STYLES) element.setAttribute(key, style.getPropertyValue(key));
    for (const name of ['class', 'tabindex', 'role', 'aria-pressed']) element.removeAttribute(name);
  });
  for (const name of ['class', 'tabindex', 'role']) copy.removeAttribute(name);
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  copy.setAttribute('viewBox', `0 0 ${width} ${height}`);
  copy.setAttribute('width', String(width));
  copy.setAttribute('height', String(height));
  const leaf = getComputedStyle(document.documentElement).getPropertyValue('--leaf').trim();
  copy.style.background = leaf;
  return new XMLSerializer().serializeToString(copy);
}

const PIXELS_A_UNIT = 2;

async function pngOf(text: string, { width, height }: TraceLayout): Promise<Blob> {
  const image = new Image();
  // As data and not as a blob, which the page's own policy on content would refuse.
  image.src = `data:image/svg+xml;charset=utf-8,${encodeURIComponent(text)}`;
  await image.decode();
  const canvas = document.createElement('canvas');
  canvas.width = width * PIXELS_A_UNIT;
  canvas.height = height * PIXELS_A_UNIT;
  const pen = canvas.getContext('2d')!;
  pen.fillStyle = getComputedStyle(document.documentElement).getPropertyValue('--leaf');
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.drawImage(image, 0, 0, canvas.width, canvas.height);
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob === null ? reject(new Error('no picture')) : resolve(blob))),
  );
}

/** In the DOT language of graph drawings. */
export function dotText({ nodes, links }: Pick<Trace, 'nodes' | 'links'>): string {
  const lines = nodes.map(
    ({ name, version, kind }, i) =>
      `  n${i} [label=${quoted(version === null ? name : `${name} ${version}`)}, shape=box${kind === 'copy' ? ', style=rounded' : ''}];`,
  );
  const arrows = links.map(
    ({ from, to, chains }) => `  n${from} -> n${to} [weight=${Math.round(chains)}];`,
  );
  return `digraph trace {\n  rankdir=LR;\n${[...lines, ...arrows].join('\n')}\n}\n`;
}

function quoted(text: string): string {
  return `"${text.replaceAll('\\', '\\\\').replaceAll('"', '\\"')}"`;
}

/** In GraphML (graphml.graphdrawing.org). */
export function graphmlText({ nodes, links }: Pick<Trace, 'nodes' | 'links'>): string {
  const data = (key: string, value: string): string => `<data key="${key}">${xml(value)}</data>`;
  const points = nodes.map(
    ({ name, version, kind, chains }, i) =>
      `    <node id="n${i}">${data('name', name)}${version === null ? '' : data('version', version)}${data('kind', kind)}${kind === 'copy' && version !== null ? data('purl', packageUrl(name, version)) : ''}${data('chains', String(chains))}</node>`,
  );
  const edges = links.map(
    ({ from, to, chains }, i) =>
      `    <edge id="e${i}" source="n${from}" target="n${to}">${data('carried', String(chains))}</edge>`,
  );
  const keys = [
    ['name', 'node', 'string'],
    ['version', 'node', 'string'],
    ['kind', 'node', 'string'],
    ['purl', 'node', 'string'],
    ['chains', 'node', 'double'],
    ['carried', 'edge', 'double'],
  ].map(
    ([id, of, type]) => `  <key id="${id}" for="${of}" attr.name="${id}" attr.type="${type}"/>`,
  );
  return `<?xml version="1.0" encoding="UTF-8"?>
<graphml xmlns="http://graphml.graphdrawing.org/xmlns">
${keys.join('\n')}
  <graph id="trace" edgedefault="directed">
${[...points, ...edges].join('\n')}
  </graph>
</graphml>
`;
}

/** XML 1.0 has no way to write a control character or half a character; each is shown as unknown. */
const NOT_IN_XML = /(?![\t\n\r])[\p{Cc}\p{Surrogate}\ufffe\uffff]/gu;

function xml(text: string): string {
  return text
    .replace(NOT_IN_XML, '\ufffd')
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}
