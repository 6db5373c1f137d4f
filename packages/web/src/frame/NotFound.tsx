import { Link } from 'react-router';
import { usePageTitle } from '../parts/usePageTitle';

export function NotFound() {
  usePageTitle('No such page');
  return (
    <div className="p-6">
      <h1 className="font-serif text-title font-semibold">No such page</h1>
      <p className="text-ink-2">
        Nothing is kept at this address.{' '}
        <Link className="text-agreed underline" to="/">
          All workspaces
        </Link>
      </p>
    </div>
  );
}
