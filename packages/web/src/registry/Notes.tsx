import Markdown from 'markdown-to-jsx';
import type { ReactNode } from 'react';

/** Only what the web is made of: no script, no file, no other program is opened from a text that anybody may have written. */
export function safeAddress(address: string | undefined): string | null {
  if (address === undefined || !URL.canParse(address)) return null;
  const { protocol, href } = new URL(address);
  return protocol === 'http:' || protocol === 'https:' ? href : null;
}

function NotesLink({ href, children }: { readonly href?: string; readonly children?: ReactNode }) {
  const address = safeAddress(href);
  return address === null ? (
    <span>{children}</span>
  ) : (
    <a href={address} rel="noopener noreferrer nofollow" className="text-agreed underline">
      {children}
    </a>
  );
}

/** A picture would be fetched from wherever the text says: its words stand in its place. */
function PictureWords({ alt = '' }: { readonly alt?: string }) {
  return <span>{alt}</span>;
}

/** The page has its own headings, and its own ids. */
function Heading({ children }: { readonly children?: ReactNode }) {
  return <p className="pt-1 font-semibold">{children}</p>;
}

const OPTIONS = {
  disableParsingRawHTML: true,
  forceBlock: true,
  wrapper: 'div',
  overrides: {
    a: NotesLink,
    img: PictureWords,
    h1: Heading,
    h2: Heading,
    h3: Heading,
    h4: Heading,
    h5: Heading,
    h6: Heading,
    ul: { props: { className: 'list-disc pl-5' } },
    ol: { props: { className: 'list-decimal pl-5' } },
    code: { props: { className: 'font-mono text-[13px]' } },
    pre: { props: { className: 'overflow-x-auto bg-bar p-1.5' } },
  },
} as const;

/** What a release says of itself. */
export function Notes({ text }: { readonly text: string }) {
  return (
    <div className="flex flex-col gap-1 text-sm break-words">
      <Markdown options={OPTIONS}>{text}</Markdown>
    </div>
  );
}
