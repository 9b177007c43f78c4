import { NavLink, useParams } from "react-router";

/** The leaves of a room: what is worked at in it, one at a time. The first needs no name in the address. */
export function Leaves({
  room,
  leaves,
  base,
}: {
  room: string;
  leaves: readonly (readonly [string, string])[];
  base?: string;
}) {
  const { id = "" } = useParams();
  const root = base ?? `/d/${id}/${room}`;
  return (
    <nav aria-label={`Leaves of ${room}`} className="mb-3 flex flex-wrap gap-x-5 gap-y-1 border-b border-rule pb-1.5">
      {leaves.map(([leaf, label]) => (
        <NavLink
          key={leaf}
          end
          to={`${root}${leaf ? `/${leaf}` : ""}`}
          className={({ isActive }) =>
            isActive
              ? "font-bold underline decoration-madder decoration-2 underline-offset-[7px]"
              : "text-second hover:text-ink"
          }
        >
          {label}
        </NavLink>
      ))}
    </nav>
  );
}
