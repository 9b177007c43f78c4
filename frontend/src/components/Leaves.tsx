import { NavigationMenu } from "radix-ui";
import { Link, useMatch, useParams } from "react-router";

interface LeavesProps {
  room: string;
  leaves: readonly (readonly [string, string])[];
  base?: string;
}

/** The leaves of a room: what is worked at in it, one at a time. The first needs no name in the address. */
export function Leaves({ room, leaves, base }: LeavesProps) {
  const { id = "" } = useParams();
  const root = base ?? `/d/${id}/${room}`;
  return (
    <NavigationMenu.Root aria-label={`Leaves of ${room}`} className="mb-3 border-b border-rule pb-1.5">
      <NavigationMenu.List className="flex flex-wrap gap-x-5 gap-y-1">
        {leaves.map(([leaf, label]) => (
          <LeafLink key={leaf} to={`${root}${leaf ? `/${leaf}` : ""}`} label={label} />
        ))}
      </NavigationMenu.List>
    </NavigationMenu.Root>
  );
}

const SHOWN = "font-bold underline decoration-madder decoration-2 underline-offset-[7px]";

function LeafLink({ to, label }: { to: string; label: string }) {
  const active = useMatch(to) !== null;
  return (
    <NavigationMenu.Item>
      <NavigationMenu.Link asChild active={active}>
        <Link to={to} className={active ? SHOWN : "text-second hover:text-ink"}>
          {label}
        </Link>
      </NavigationMenu.Link>
    </NavigationMenu.Item>
  );
}
