import { count } from '../parts/words';

const SOON_DAYS = 30;

/** How long something still holds. */
export function DaysLeft({ daysLeft }: { readonly daysLeft: number }) {
  if (daysLeft < 0) return <span className="text-off">lapsed {count(-daysLeft, 'day')} ago</span>;
  if (daysLeft === 0) return <span className="text-off">today is the last day</span>;
  return (
    <span className={daysLeft <= SOON_DAYS ? 'text-caution' : ''}>
      {count(daysLeft, 'day')} left
    </span>
  );
}
