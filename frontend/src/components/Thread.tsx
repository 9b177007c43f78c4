import { memo, useEffect, useRef } from "react";
import { Link, NavLink, useLocation } from "react-router";
import type { DesignReply } from "../api/client";
import { useDesign } from "../api/design";
import { EditsStrip } from "./EditsStrip";
import { ROOMS } from "./rooms";
import { roving } from "./roving";
import { SwingTag } from "./SwingTag";

/** Height of a room's line, in pixels: ten of them, the tag and the edits are seen at 800. */
const ROW = 40;

type RoomState = DesignReply["evaluation"]["rooms"][string];

const FILL: Record<string, string> = { empty: "nothing yet", begun: "begun", full: "has what it needs" };

/** The red thread down the side: ten knots, and the swing tag that hangs from its end. */
export function Thread() {
  const { design } = useDesign();
  const here = useLocation().pathname.split("/")[3] ?? "";
  const brief = design.document.brief;
  const known = ROOMS.some(([room]) => room === here);
  const rail = useRef<HTMLElement>(null);
  useEffect(() => {
    // On a narrow screen the rail is a strip: the room one is in stays in sight.
    rail.current?.querySelector("[aria-current=page]")?.scrollIntoView({ block: "nearest", inline: "center" });
  }, [here]);
  return (
    <nav
      ref={rail}
      aria-label="Rooms"
      className="weave sticky top-0 flex h-screen w-[187px] shrink-0 flex-col overflow-y-auto border-r border-rule max-[899px]:z-20 max-[899px]:h-auto max-[899px]:w-full max-[899px]:flex-row max-[899px]:items-center max-[899px]:overflow-x-auto max-[899px]:border-b max-[899px]:border-r-0"
    >
      <div className="px-[23px] pt-4 max-[899px]:shrink-0 max-[899px]:px-3 max-[899px]:pt-0">
        <Link to="/" className="block font-heading text-head font-bold italic leading-none" title="Back to the shelf">
          Ink Thread
        </Link>
        <p className="mt-2 text-plain leading-tight text-second max-[899px]:hidden">
          <span className="block truncate" title={brief.name}>
            {brief.name || "unnamed"}
          </span>
          <span className="block truncate" title={brief.machine}>
            {brief.machine || "version " + String(design.version)}
          </span>
        </p>
      </div>
      <div className="relative mt-1 shrink-0">
        <svg
          className="absolute left-0 top-0 max-[899px]:hidden"
          width={187}
          height={ROOMS.length * ROW + 70}
          aria-hidden="true"
        >
          <path
            d={threadPath(ROOMS.length)}
            fill="none"
            stroke="var(--madder)"
            strokeWidth={2.4}
            strokeLinecap="round"
          />
        </svg>
        <ol className="max-[899px]:flex" onKeyDown={roving}>
          {ROOMS.map(([room, title]) => (
            <RoomLine
              key={room}
              to={`/d/${design.id}/${room}`}
              title={title}
              state={design.evaluation.rooms[room]}
              current={room === here}
              // The rail is one stop of the Tab key: arrows go along it.
              stop={room === here || (!known && room === "brief")}
            />
          ))}
        </ol>
      </div>
      <div className="max-[899px]:hidden">
        <SwingTag />
      </div>
      <Link to={`/d/${design.id}/findings`} className="quiet mx-3 hidden shrink-0 max-[899px]:block">
        findings
      </Link>
      <EditsStrip />
      <div className="flex-1" />
    </nav>
  );
}

interface RoomLineProps {
  to: string;
  title: string;
  state: RoomState | undefined;
  current: boolean;
  stop: boolean;
}

const RoomLine = memo(function RoomLine({ to, title, state, current, stop }: RoomLineProps) {
  return (
    <li className="relative h-[40px] max-[899px]:shrink-0">
      <NavLink
        to={to}
        tabIndex={stop ? 0 : -1}
        className="flex h-full items-center gap-1 pl-[27px] max-[899px]:gap-1.5 max-[899px]:pl-1 max-[899px]:pr-2"
      >
        <Knot progress={state?.progress ?? "empty"} current={current} />
        <span className={`ml-2 max-[899px]:ml-0 ${current ? "font-heading text-head font-semibold" : "text-lead"}`}>
          {title}
        </span>
        {state && state.stops > 0 && <Badge tone="bg-madder" count={state.stops} word="to stop for" />}
        {state && state.fixes > 0 && <Badge tone="bg-ochre" count={state.fixes} word="to fix" />}
        {state && state.count > 0 && !current && hasPlace(state) && (
          <span className="font-figures text-fine text-second">{state.count}</span>
        )}
        <span className="sr-only">{state ? FILL[state.progress] : "not built yet"}</span>
      </NavLink>
    </li>
  );
});

function threadPath(rooms: number): string {
  let path = "M40 0";
  for (let i = 0; i < rooms; i += 1) {
    const y = i * ROW + ROW / 2;
    const lean = i % 2 ? 3.5 : -3.5;
    path += ` C ${40 + lean} ${y - 14}, ${40 + lean} ${y - 9}, 40 ${y}`;
  }
  const end = rooms * ROW;
  return `${path} C 40 ${end + 26}, 91 ${end + 10}, 93 ${end + 57}`;
}

function Knot({ progress, current }: { progress: string; current: boolean }) {
  const r = current ? 11 : 8;
  return (
    <svg width={26} height={26} className="-ml-px shrink-0" aria-hidden="true">
      <circle cx={13} cy={13} r={r} fill="var(--linen)" stroke="var(--madder)" strokeWidth={2.4} />
      {progress === "full" && <circle cx={13} cy={13} r={r - 3.6} fill="var(--madder)" />}
      {progress === "begun" && (
        <path d={`M ${13 - r + 3.6} 13 a ${r - 3.6} ${r - 3.6} 0 0 0 ${2 * (r - 3.6)} 0 z`} fill="var(--madder)" />
      )}
    </svg>
  );
}

/** A count of four digits has none beside two badges. */
function hasPlace({ stops, fixes, count }: { stops: number; fixes: number; count: number }): boolean {
  return count < 1000 || stops === 0 || fixes === 0;
}

function Badge({ tone, count, word }: { tone: string; count: number; word: string }) {
  return (
    <span
      className={`inline-flex h-[18px] min-w-[18px] items-center justify-center rounded-full px-1 text-fine font-bold text-on-ink ${tone}`}
      title={`${count} ${word}`}
    >
      {count}
      <span className="sr-only"> {word}</span>
    </span>
  );
}
