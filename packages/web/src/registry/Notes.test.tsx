import { render } from '@testing-library/react';
import { expect, test } from 'vitest';
import { Notes } from './Notes';

const html = (text: string): string => render(<Notes text={text} />).container.innerHTML;

test('notes are shown as Markdown, headings without being headings of the page', () => {
  const shown = html('# 1.2.0\n\n- faster, see [the report](https://reports.example/7)\n- `log`\n');
  expect(shown).toContain('<p class="pt-1 font-semibold">1.2.0</p>');
  expect(shown).toMatch(
    /<a href="https:\/\/reports\.example\/7" rel="noopener noreferrer nofollow"/,
  );
  expect(shown).toContain('<code');
  expect(shown).not.toContain('<h1');
});

test.each([
  ['a script', '<script>alert(1)</script>'],
  ['an element that does something', '<img src=x onerror="alert(1)">'],
  ['a frame', '<iframe src="https://elsewhere.example"></iframe>'],
  ['a style', '<style>body { display: none }</style>'],
  ['a link to a script', '[press](javascript:alert(1))'],
  ['a link to a script, spelt otherwise', '[press](JaVaScRiPt:alert(1))'],
  ['a link to data', '[press](data:text/html,x)'],
  ['a picture from elsewhere', '![seen](https://elsewhere.example/pixel.png)'],
  ['a link by reference', '[press][1]\n\n[1]: javascript:alert(1)'],
  ['a bare address of a script', '<javascript:alert(1)>'],
])('%s is harmless', (_, text) => {
  const { container } = render(<Notes text={text} />);
  for (const element of ['script', 'img', 'iframe', 'style', 'svg', 'object', 'form'])
    expect(container.querySelector(element)).toBeNull();
  for (const link of container.querySelectorAll('a'))
    expect(link.getAttribute('href')).toMatch(/^https?:/);
  for (const element of container.querySelectorAll('*'))
    expect(element.getAttributeNames().filter((one) => one.startsWith('on'))).toEqual([]);
});
