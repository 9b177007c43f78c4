import { useState, type ReactNode } from "react";
import { refusal } from "../api/client";
import { shelfAct } from "../api/design";
import { useCopy, useKeeping, useKept, type Kept } from "../api/keeping";
import { useSay } from "../components/Notice";

const DAY = new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long" });
const TIME = new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit" });

function day(at: string): string {
  return DAY.format(new Date(at));
}

function moment(at: string): string {
  return `${day(at)}, ${TIME.format(new Date(at))}`;
}

/** Harnesses of an earlier place, offered. */
export function EarlierPlace() {
  const { data } = useKept();
  const keeping = useKeeping();
  const act = useAct();
  if (!data?.earlier_file) return null;
  const n = data.earlier_count;
  return (
    <p className="mt-4 border-l-2 border-madder pl-3">
      {n === 1 ? "One harness" : `${n} harnesses`} of an earlier place {n === 1 ? "is" : "are"} not on this shelf:{" "}
      <span className="font-figures text-plain">{data.earlier_file}</span>.{" "}
      <button
        className="quiet"
        onClick={() => void act(keeping.bringIn, "They are on the shelf. The earlier file stays as it was.")}
      >
        Bring {n === 1 ? "it" : "them"} in
      </button>
    </p>
  );
}

function useAct() {
  const say = useSay();
  return async (work: () => Promise<unknown>, done: string) => {
    try {
      await work();
      say(done);
    } catch (error) {
      say(refusal(error).message);
    }
  };
}

/** Where harnesses are kept on this machine, their copies, and what was taken off the shelf. */
export function Keeping() {
  const { data, error } = useKept();
  const keeping = useKeeping();
  const act = useAct();
  if (error) return <p className="mt-8 text-madder">{refusal(error).message}</p>;
  if (!data) return null;
  const newest = data.copies[0];
  return (
    <section className="mt-10" aria-label="Keeping">
      <h2 className="text-head">Kept on this machine</h2>
      <p className="mt-1 max-w-[80ch] text-second">
        In <span className="font-figures text-plain">{data.file}</span>.{" "}
        {newest ? `Copied last on ${moment(newest.made_at)}.` : "The first copy is made in a moment."} On every day that
        it runs the program makes a copy, and keeps the last seven of them.
      </p>
      {data.trouble && (
        <p role="alert" className="mt-1 text-madder">
          {data.trouble} Export what you cannot lose, then make room or bring back a copy.
        </p>
      )}
      <p className="mt-2 flex flex-wrap gap-x-5 gap-y-1">
        <button className="quiet" onClick={() => void act(keeping.copyNow, "Copied and checked.")}>
          make a copy now
        </button>
        <a className="quiet" href="/api/data/file">
          carry a copy off
        </a>
      </p>
      <Fold label={`copies (${data.copies.length})`} shown={data.copies.length > 0}>
        <ul>
          {data.copies.map((c) => (
            <CopyRow key={c.name} copy={c} />
          ))}
        </ul>
        <p className="mt-2 text-plain text-second">
          They lie in <span className="font-figures">{data.copies_folder}</span>. To put a whole copy in the place of
          everything: <code className="font-figures">inkthread restore FILE</code>.
        </p>
      </Fold>
      <Fold label={`taken off the shelf (${data.removed.length})`} shown={data.removed.length > 0}>
        <ul>
          {data.removed.map((r) => (
            <li key={r.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-faint py-1.5">
              <span className="min-w-0 flex-1 truncate font-semibold">{r.name || "unnamed"}</span>
              <span className="text-second">kept until {day(r.kept_until)}</span>
              <button
                className="quiet"
                onClick={() =>
                  void act(
                    async () => {
                      await shelfAct(r.id, "restore");
                      await keeping.again();
                    },
                    `${r.name || "It"} is on the shelf again.`,
                  )
                }
              >
                put it back
              </button>
            </li>
          ))}
        </ul>
      </Fold>
    </section>
  );
}

function Fold({ label, shown, children }: { label: string; shown: boolean; children: ReactNode }) {
  if (!shown) return null;
  return (
    <details className="mt-3">
      <summary className="cursor-pointer text-blue underline-offset-4 hover:underline">{label}</summary>
      <div className="mt-1 pl-4">{children}</div>
    </details>
  );
}

function size(bytes: number): string {
  return bytes < 1_000_000 ? `${Math.ceil(bytes / 1000)} kB` : `${(bytes / 1_000_000).toFixed(1)} MB`;
}

function CopyRow({ copy }: { copy: Kept["copies"][number] }) {
  const [open, setOpen] = useState(false);
  return (
    <li className="border-b border-faint py-1.5">
      <span className="flex flex-wrap items-baseline gap-x-4">
        <span className="flex-1">{moment(copy.made_at)}</span>
        <span className="text-second">
          {copy.daily ? "of the day" : copy.name.startsWith("before") ? "before a copy took its place" : "asked for"}
        </span>
        <span className="font-figures text-plain text-second">{size(copy.size_bytes)}</span>
        <button className="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "close it" : "look into it"}
        </button>
      </span>
      {open && <Inside name={copy.name} />}
    </li>
  );
}

const HERE: Record<string, string> = {
  same: "the same here",
  changed: "another version here",
  removed: "taken off the shelf here",
  missing: "not here",
};

function Inside({ name }: { name: string }) {
  const { data, error } = useCopy(name);
  const keeping = useKeeping();
  const act = useAct();
  if (error) return <p className="py-1 text-madder">{refusal(error).message}</p>;
  if (!data) return <p className="py-1 text-second">Looking into it ...</p>;
  return (
    <ul className="py-1 pl-4">
      {data.designs.length === 0 && <li className="text-second">There is no harness in it.</li>}
      {data.designs.map((d) => (
        <li key={d.id} className="flex flex-wrap items-baseline gap-x-4 py-0.5">
          <span className="min-w-0 flex-1 truncate font-semibold">{d.name || "unnamed"}</span>
          <span className="text-second">changed {moment(d.changed_at)}</span>
          <span className="min-w-[175px] text-second">{HERE[d.here]}</span>
          {d.here === "same" ? (
            <span className="min-w-[112px]" />
          ) : (
            <button
              className="quiet min-w-[112px] text-left"
              onClick={() =>
                void act(
                  () => keeping.putBack(name, d.id),
                  `${d.name || "It"} is as in the copy. What stood here can be brought back by undo.`,
                )
              }
            >
              put this back
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
