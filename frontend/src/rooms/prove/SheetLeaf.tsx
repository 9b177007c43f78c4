import { useMemo, useRef, useState } from "react";
import type { Problem } from "../../api/client";
import { nowWorks, whoWorks } from "../../api/who";
import { useDesign } from "../../api/design";
import { isState, usePieceActs, type PieceState, type Pieces, type Plan, type TestRow } from "../../api/prove";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { useSay } from "../../components/Notice";
import { Underway } from "../../components/Underway";
import { degrees, ohms, ohmsBetween, unitsOf } from "../../format";
import { Band } from "./Band";

interface Props {
  plan: Plan;
  pieces: Pieces;
  state: PieceState | null;
  onChoose: (serial: string) => void;
}

const SHOWN = [
  ["all", "all rows"],
  ["left", "not read yet"],
  ["fails", "that fail"],
] as const;

/** Places strapped together, beyond which they are all that there are. */
const MANY = 99;

type Shown = (typeof SHOWN)[number][0];

/** Every row that is read in ohm, against its band. A reading is typed in its row, or the tester reads. */
export function SheetLeaf({ plan, pieces, state, onChoose }: Props) {
  const { design } = useDesign();
  const say = useSay();
  const [who, setWho] = useState(whoWorks);
  const [shown, setShown] = useState<Shown>("all");
  const [reading, setReading] = useState(false);
  const serial = state?.piece.serial ?? pieces.next_serial;
  const acts = usePieceActs(serial, who);
  const file = useRef<HTMLInputElement>(null);
  const read = useMemo(() => new Map(state?.readings.filter((r) => r.row).map((r) => [r.row, r])), [state]);
  const rows = useMemo(
    () =>
      plan.rows.filter((r) => {
        if (r.low_ohm === null) return false;
        const found = read.get(r.id);
        return shown === "all" || (shown === "left" ? !found : found?.verdict === "fails");
      }),
    [plan, read, shown],
  );
  const named = design.document.circuits.circuits;

  const columns = useMemo<Column<TestRow>[]>(() => {
    /** A first reading begins a piece by itself. */
    const typed = async (row: TestRow, text: string): Promise<Problem | null> => {
      if (!state) {
        const begun = await acts.begin(pieces.next_serial, 1);
        if (!isState(begun)) return begun;
        say(`Piece ${pieces.next_serial} is begun.`);
        onChoose(pieces.next_serial);
      }
      const reply = await acts.read([{ a: row.a.join("&"), b: row.b.join("&"), moved: row.moved, text }]);
      if (!isState(reply)) return reply;
      const refused = reply.refused[0];
      return refused
        ? { type: "about:blank", title: "Not a reading", detail: refused.why, status: 422, errors: [] }
        : null;
    };
    return [
      { key: "row", head: "Row", width: "46px", figures: true, text: (r) => r.id },
      {
        key: "from",
        head: "From",
        width: "80px",
        figures: true,
        text: (r) => place(r.a),
        title: (r) => r.a.join(", "),
        show: (r) => <strong>{place(r.a)}</strong>,
      },
      {
        key: "to",
        head: "To",
        width: "96px",
        figures: true,
        text: (r) => place(r.b),
        title: (r) => r.b.join(", "),
        show: (r) => <strong>{place(r.b)}</strong>,
      },
      {
        key: "circuit",
        head: "Circuit",
        width: "minmax(110px,1.4fr)",
        text: (r) => `${r.circuit} ${named[r.circuit]?.name ?? ""}`.trim() + (r.moved ? ", moved" : ""),
        title: (r) => `${r.words} Would find: ${r.catches.join(", ")}.`,
      },
      {
        key: "expected",
        head: "Should read",
        width: "144px",
        align: "right",
        figures: true,
        text: (r) => expected(r),
      },
      {
        key: "band",
        head: "Band and reading",
        width: "minmax(74px,150px)",
        text: (r) => `${expected(r)}: ${read.get(r.id)?.ohm ?? "not read"}`,
        stamp: (r) => String(read.get(r.id)?.ohm),
        show: (r) => <Band row={r} reading={read.get(r.id)} />,
      },
      {
        key: "read",
        head: "Read",
        width: "86px",
        align: "right",
        figures: true,
        text: (r) => {
          const taken = read.get(r.id);
          return taken ? ohms(taken.ohm) : "";
        },
        title: () => "type ohms, as 0.031, 31 mohm or 1.2k, or OL where it is open; empty it to take it out",
        commit: typed,
        begin: (r) => {
          const taken = read.get(r.id);
          return !taken ? "" : taken.ohm === null ? "OL" : String(taken.ohm);
        },
      },
      {
        key: "verdict",
        head: "",
        width: "56px",
        text: (r) => read.get(r.id)?.verdict ?? "",
        show: (r) => {
          const verdict = read.get(r.id)?.verdict;
          return <strong className={verdict === "fails" ? "text-madder" : "text-verdigris"}>{verdict ?? ""}</strong>;
        },
      },
    ];
  }, [acts, named, onChoose, pieces.next_serial, read, say, state]);

  const byTester = async () => {
    setReading(true);
    if (!state) {
      const begun = await acts.begin(pieces.next_serial, 1);
      if (!isState(begun)) {
        say(begun.detail);
        setReading(false);
        return;
      }
      onChoose(pieces.next_serial);
    }
    let anew = state !== null && state.not_read === 0;
    for (;;) {
      const reply = await acts.tester(anew);
      if (!isState(reply)) {
        say(reply.detail);
        break;
      }
      anew = false;
      const went = /^\d+ readings\.$/.test(reply.says);
      if (!went) say(reply.says);
      if (!went || reply.not_read === 0) break;
    }
    setReading(false);
  };

  const fromFile = async (chosen: File | undefined) => {
    if (!chosen) return;
    if (!state) {
      const begun = await acts.begin(pieces.next_serial, 1);
      if (!isState(begun)) return say(begun.detail);
      onChoose(pieces.next_serial);
    }
    const reply = await acts.table(await chosen.text());
    say(
      isState(reply)
        ? [reply.says, ...reply.refused.slice(0, 3).map((r) => `Line ${r.line}: ${r.why}`)].join(" ")
        : reply.detail,
    );
  };

  const measure = async (bench: string, leads: string) => {
    const reply = await acts.measure(bench, leads);
    if (!isState(reply)) say(reply.detail);
  };
  const closed = state?.piece.signed_at !== null && state !== null;
  return (
    <>
      <div className="mb-3 flex flex-wrap items-baseline gap-x-5 gap-y-2">
        {pieces.pieces.length > 1 && (
          <label>
            Piece{" "}
            <select className="inkbox" value={serial} onChange={(e) => onChoose(e.target.value)}>
              {pieces.pieces.map((p) => (
                <option key={p.serial}>{p.serial}</option>
              ))}
            </select>
          </label>
        )}
        <label>
          Rows{" "}
          <select className="inkbox" value={shown} onChange={(e) => setShown(e.target.value as Shown)}>
            {SHOWN.map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </select>
        </label>
        {!closed && (
          <>
            <label>
              by{" "}
              <input
                className="inkbox w-[110px]"
                value={who}
                maxLength={60}
                placeholder="your name"
                onChange={(e) => {
                  setWho(e.target.value);
                  nowWorks(e.target.value);
                }}
              />
            </label>
            {state && (
              <Measured
                key={`${state.piece.serial} ${state.bench_c} ${state.leads_ohm}`}
                state={state}
                onMeasure={measure}
              />
            )}
            <button className="press" disabled={reading} onClick={() => void byTester()}>
              Let the tester read
            </button>
            <button className="quiet" onClick={() => file.current?.click()}>
              Readings from a file
            </button>
            <input
              ref={file}
              type="file"
              accept=".csv,.txt,text/csv,text/plain"
              className="hidden"
              aria-label="File of readings"
              onChange={(e) => {
                void fromFile(e.target.files?.[0]);
                e.target.value = "";
              }}
            />
          </>
        )}
      </div>
      {reading && state && <Underway text="The tester reads" share={1 - state.not_read / Math.max(state.rows, 1)} />}
      {state?.findings
        .filter((f) => f.code !== "reading-out-of-band")
        .map((f) => (
          <p key={f.what} className="mb-2 max-w-[92ch]">
            <strong className="text-madder">{f.what}</strong> {f.why} {f.remedies.map((r) => r.text).join(" ")}
          </p>
        ))}
      <Grid
        label="Test sheet"
        rows={rows}
        columns={columns}
        rowKey={(r) => r.id}
        empty={shown === "fails" ? "No row fails." : "Every row is read."}
        steady
      />
      {plan.uncaught.length > 0 && (
        <p className="mt-3 max-w-[92ch] text-plain text-second">
          Nothing on this sheet would find: {plan.uncaught.join("; ")}.
        </p>
      )}
    </>
  );
}

function Measured({
  state,
  onMeasure,
}: {
  state: PieceState;
  onMeasure: (bench: string, leads: string) => Promise<void>;
}) {
  const [bench, setBench] = useState(degrees(state.bench_c, unitsOf(useDesign().design.document)));
  const [leads, setLeads] = useState(`${Number((state.leads_ohm * 1000).toPrecision(4))} mohm`);
  const put = () => void onMeasure(bench, leads);
  return (
    <>
      <label>
        conductors at{" "}
        <input
          className="inkbox w-[74px] font-figures"
          value={bench}
          onChange={(e) => setBench(e.target.value)}
          onBlur={put}
        />
      </label>
      <label>
        leads alone{" "}
        <input
          className="inkbox w-[88px] font-figures"
          value={leads}
          onChange={(e) => setLeads(e.target.value)}
          onBlur={put}
        />
      </label>
    </>
  );
}

function place(group: readonly string[]): string {
  return group.length > MANY ? "all others" : group.length > 1 ? `${group.length} places` : (group[0] ?? "");
}

function expected(row: TestRow): string {
  if (row.high_ohm === null) return "apart";
  return ohmsBetween(row.low_ohm ?? 0, row.high_ohm);
}
