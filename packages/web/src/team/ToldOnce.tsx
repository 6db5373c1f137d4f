import { useState } from 'react';
import { Button } from '../parts/Button';
import { Notice } from '../parts/Notice';

interface Props {
  readonly title: string;
  readonly secret: string;
  readonly onDone: () => void;
}

/** A secret that cannot be read again. */
export function ToldOnce({ title, secret, onDone }: Props) {
  const [isCopied, setCopied] = useState(false);
  return (
    <Notice kind="word" title={title}>
      <p>It is told this once. Copy it now.</p>
      <p className="my-1 font-mono text-ink select-all">{secret}</p>
      <span className="flex gap-4">
        <Button
          look="text"
          onClick={() => void navigator.clipboard.writeText(secret).then(() => setCopied(true))}
        >
          {isCopied ? 'copied' : 'copy'}
        </Button>
        <Button look="text" onClick={onDone}>
          I have it
        </Button>
      </span>
    </Notice>
  );
}
