import { TextLink } from '../parts/TextLink';

/** How machines take archives from here. */
export function MirrorUse({ slug }: { readonly slug: string }) {
  return (
    <details className="mt-4 text-ink-2">
      <summary className="cursor-pointer text-sm">How machines install from here</summary>
      <p className="mt-2 font-mono text-sm [overflow-wrap:anywhere] text-ink">
        DEEP_LEDGER_MIRROR={window.location.origin}/api/workspaces/{slug}/archives
        DEEP_LEDGER_TOKEN=… bin/deep-ledger install
      </p>
      <p className="mt-1 text-sm">
        The token is one that may fetch archives; a keeper makes it on the page of the{' '}
        <TextLink to={`/w/${slug}/team`}>team</TextLink>. What is not kept here comes from the
        registry. With <code className="font-mono">DEEP_LEDGER_MIRROR_ORDER=last</code> the registry
        is asked first.
      </p>
    </details>
  );
}
