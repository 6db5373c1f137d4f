import { Link, type LinkProps } from 'react-router';

/** A link inside a line of text. */
export function TextLink(props: Omit<LinkProps, 'className'>) {
  return (
    <Link {...props} className="text-agreed underline decoration-rule-strong underline-offset-3" />
  );
}
