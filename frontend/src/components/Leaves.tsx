import { Link, useLocation, useParams } from "react-router";
import { roving } from "./roving";

interface LeavesProps {
  room: string;
  leaves: readonly (readonly [string, string])[];
  base?: string;
  /** The one that is shown, where the address does not say it alone. */
  shown?: string;
}

const SHOWN = "font-bold underline decoration-madder decoration-2 underline-offset-[7px]";

/** The leaves of a room: what is worked at in it, one at a time. The first needs no name in the address. */
export function Leaves({ room, leaves, base, shown: named }: LeavesProps) {
  const { id = "" } = useParams();
  const { pathname } = useLocation();
  const root = base ?? `/d/${id}/${room}`;
  const addresses = leaves.map(([leaf]) => `${root}${leaf ? `/${leaf}` : ""}`);
  const shown = named === undefined ? addresses.indexOf(pathname) : leaves.findIndex(([leaf]) => leaf === named);
  return (
    <nav aria-label={`Leaves of ${room}`} className="mb-3 border-b border-rule pb-1.5">
      <ul className="flex flex-wrap gap-x-5 gap-y-1" onKeyDown={roving}>
        {leaves.map(([leaf, label], n) => (
          <li key={leaf}>
            <Link
              to={addresses[n] ?? root}
              aria-current={n === shown ? "page" : undefined}
              // One stop of the Tab key; arrows go along them.
              tabIndex={n === Math.max(shown, 0) ? 0 : -1}
              className={n === shown ? SHOWN : "text-second hover:text-ink"}
            >
              {label}
            </Link>
          </li>
        ))}
      </ul>
    </nav>
  );
}
