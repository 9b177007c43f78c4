import { useState } from "react";
import { isState, usePieceActs, type PieceState, type Plan, type TestRow } from "../../api/prove";
import { whoWorks } from "../../api/who";
import { useSay } from "../../components/Notice";
import { spent } from "../../components/spent";

const SORTS = [
  ["pull", "Pulled samples"],
  ["drop", "Volts at each device, working"],
  ["dry contact", "Dry contacts"],
  ["self-mate", "Ends that mate"],
  ["insulation", "Insulation at voltage"],
  ["function", "What each device does"],
] as const;

/** What is proved otherwise than by ohms: samples, volts, what devices do; and looks, scored apart. */
export function SamplesLeaf({ plan, state }: { plan: Plan; state: PieceState | null }) {
  const say = useSay();
  const acts = usePieceActs(state?.piece.serial ?? "", whoWorks());
  const looks = new Map(state?.looks.map((k) => [k.place, k]));
  const closed = state !== null && state.piece.signed_at !== null;
  const look = async (place: string, fine: boolean | null) => {
    const reply = await acts.look(place, fine);
    if (!isState(reply)) say(reply.detail);
  };
  return (
    <>
      {SORTS.map(([kind, head]) => {
        const rows = plan.rows.filter((r) => r.kind === kind);
        if (rows.length === 0) return null;
        return (
          <section key={kind} className="mb-5">
            <h2 className="text-head">{head}</h2>
            {kind === "pull" && (
              <p className="text-second">Of samples only: a contact that is to be used is tugged by hand.</p>
            )}
            <ul className="mt-1">
              {rows.map((r) => (
                <li key={r.id} className="flex items-baseline gap-4 border-b border-faint py-1">
                  <span className="w-[44px] shrink-0 font-figures text-fine text-second">{r.id}</span>
                  <span className="max-w-[86ch] flex-1">
                    {r.words}{" "}
                    {r.expected_v !== null && (
                      <strong className="font-figures">
                        {r.low_v?.toFixed(2)} … {r.high_v?.toFixed(2)} V
                      </strong>
                    )}
                  </span>
                  {state && <Tried key={`${state.piece.serial} ${r.id}`} row={r} state={state} />}
                </li>
              ))}
            </ul>
          </section>
        );
      })}
      <section>
        <h2 className="text-head">Looks, scored apart</h2>
        <p className="text-second">
          {state ? "They never stand for a test." : "Begin a piece on the test sheet, and its looks are noted here."}
        </p>
        <ul className="mt-1">
          {plan.rows
            .filter((r) => r.kind === "looks")
            .map((r) => {
              const place = r.words.split(":")[0] ?? "";
              const noted = looks.get(place);
              return (
                <li key={r.id} className="flex flex-wrap items-baseline gap-x-4 border-b border-faint py-1">
                  <span className="w-[64px] font-figures font-bold">{place}</span>
                  <span className="min-w-[240px] flex-1">{r.words.slice(place.length + 2)}</span>
                  {state && !closed && (
                    <span className="flex gap-3">
                      <button
                        className={noted?.fine === true ? "font-bold text-verdigris" : "quiet"}
                        aria-pressed={noted?.fine === true}
                        onClick={() => void look(place, noted?.fine === true ? null : true)}
                      >
                        looks right
                      </button>
                      <button
                        className={noted?.fine === false ? "font-bold text-madder" : "quiet"}
                        aria-pressed={noted?.fine === false}
                        onClick={() => void look(place, noted?.fine === false ? null : false)}
                      >
                        does not
                      </button>
                    </span>
                  )}
                  {closed && noted && <span>{noted.fine ? "looks right" : "does not look right"}</span>}
                </li>
              );
            })}
        </ul>
      </section>
    </>
  );
}

const UNIT: Partial<Record<TestRow["kind"], string>> = { pull: "N", drop: "V" };

/** What came of one test: a figure where it has one, else whether it is well. */
function Tried({ row, state }: { row: TestRow; state: PieceState }) {
  const say = useSay();
  const acts = usePieceActs(state.piece.serial, whoWorks());
  const noted = state.checks.find((c) => c.test === `${row.kind}: ${row.words}`.slice(0, 300));
  const [text, setText] = useState("");
  const unit = UNIT[row.kind];
  const put = async (typed: string, fine: boolean | null) => {
    const reply = await acts.check(row.id, typed, fine);
    if (isState(reply)) setText(spent(typed));
    else say(reply.errors[0]?.message ?? reply.detail);
  };
  if (noted || state.piece.signed_at !== null)
    return (
      <span className="flex shrink-0 items-baseline gap-3">
        {noted && (
          <strong className={noted.fine ? "text-verdigris" : "text-madder"}>
            {noted.value === null ? "" : `${noted.value} ${unit ?? ""} `}
            {noted.fine ? "holds" : "does not hold"}
          </strong>
        )}
        {noted && state.piece.signed_at === null && (
          <button className="quiet text-fine" onClick={() => void put("", null)}>
            take out
          </button>
        )}
      </span>
    );
  return unit ? (
    <form
      className="shrink-0"
      onSubmit={(e) => {
        e.preventDefault();
        if (text.trim()) void put(text, null);
      }}
    >
      <input
        className="inkbox w-[84px] font-figures"
        aria-label={`test ${row.id} reads`}
        placeholder={row.kind === "pull" ? "weakest" : ""}
        value={text}
        maxLength={40}
        inputMode="decimal"
        onChange={(e) => setText(e.target.value)}
        onBlur={() => text.trim() && void put(text, null)}
      />{" "}
      {unit}
    </form>
  ) : (
    <span className="flex shrink-0 gap-3">
      <button className="quiet" onClick={() => void put("", true)}>
        holds
      </button>
      <button className="quiet" onClick={() => void put("", false)}>
        does not
      </button>
    </span>
  );
}
