import { useCallback, useState } from "react";
import { useNavigate } from "react-router";
import { useDesign, usePaste } from "../../api/design";
import { useSay } from "../../components/Notice";
import { useRested } from "../../components/useRested";

const EXAMPLE =
  "Signal\tFrom\tFrom pin\tTo\tTo pin\tAWG\tColour\nfan feed\tF1\tout\tM1\t+\t16\tRD\nfan return\tM1\t-\tB1\t-\t16\tBK";

/** A from-to list out of a spreadsheet: match its columns, see what each line comes to, put in what is understood. */
export function PasteLeaf() {
  const { id } = useDesign();
  const { look, put } = usePaste();
  const say = useSay();
  const navigate = useNavigate();
  const [text, setText] = useState("");
  const [meanings, setMeanings] = useState<string[] | null>(null);
  const [headed, setHeaded] = useState<boolean | null>(null);
  const [refusal, setRefusal] = useState<{ of: string; says: string } | null>(null);
  const [busy, setBusy] = useState(false);
  const looked = useRested(
    useCallback(
      () => (text.trim() ? look({ text, meanings, headed }) : Promise.resolve(null)),
      [headed, look, meanings, text],
    ),
    120,
  );
  const plan = looked && "plan" in looked ? looked.plan : null;
  const problem = refusal?.of === text ? refusal.says : looked && "problem" in looked ? looked.problem.detail : null;
  const anew = (pasted: string) => {
    setText(pasted);
    setMeanings(null);
    setHeaded(null);
  };
  const putIn = async () => {
    if (!plan || busy) return;
    setBusy(true);
    const found = await put({ text, meanings: plan.columns.map((c) => c.meaning), headed: plan.headed });
    setBusy(false);
    if (found) {
      setRefusal({ of: text, says: found.detail });
      return;
    }
    const left = plan.lines.filter((l) => l.problem !== null);
    say(
      left.length
        ? `${plan.taken} lines put in. ${left.length === 1 ? "One is" : `${left.length} are`} left here to mend.`
        : `${plan.taken} lines put in.`,
    );
    if (left.length === 0) {
      void navigate(`/d/${id}/circuits`);
      return;
    }
    setHeaded(false);
    setMeanings(plan.columns.map((c) => c.meaning));
    setText(left.map((l) => l.text).join("\n"));
  };
  const refused = plan ? plan.lines.length - plan.taken : 0;
  return (
    <>
      <p className="mb-2 max-w-[86ch] text-second">
        Copy the lines in your spreadsheet, one wire a line, and paste them here. An end is a device and its pin, or
        what you would type in the add line: M1 fuel pump 5 A, battery, ground. Nothing is put in before you have seen
        what it comes to.
      </p>
      <textarea
        aria-label="The list"
        value={text}
        spellCheck={false}
        rows={plan ? 5 : 9}
        placeholder={EXAMPLE}
        onChange={(e) => (text === "" ? anew(e.target.value) : setText(e.target.value))}
        onPaste={(e) => {
          const pasted = e.clipboardData.getData("text/plain");
          if (!pasted.includes("\n")) return;
          e.preventDefault();
          anew(pasted);
        }}
        className="inkbox w-full border-ink font-figures text-fine leading-snug placeholder:text-second/80"
      />
      {problem && (
        <p role="alert" className="mt-1 text-madder">
          {problem}
        </p>
      )}
      {plan && (
        <>
          <div className="my-3 flex flex-wrap items-center gap-x-5 gap-y-2">
            <button className="press" disabled={plan.taken === 0 || busy} onClick={() => void putIn()}>
              {busy
                ? "Putting in ..."
                : `Put in ${plan.taken === plan.lines.length ? (plan.taken === 1 ? "the line" : `all ${plan.taken} lines`) : `the ${plan.taken} that are understood`}`}
            </button>
            <span>
              <strong>{plan.taken}</strong> of {plan.lines.length} understood
              {refused > 0 && (
                <span className="text-madder">
                  , {refused === 1 ? "one is not" : `${refused} are not`}; they stay here
                </span>
              )}
              .
            </span>
            <label className="flex items-center gap-1.5 text-second">
              <input
                type="checkbox"
                className="accent-(--ink)"
                checked={plan.headed}
                onChange={(e) => setHeaded(e.target.checked)}
              />
              the first line is headings
            </label>
          </div>
          <table className="w-full border-collapse text-plain">
            <caption className="sr-only">What each column means</caption>
            <tbody>
              <tr className="border-b border-rule align-bottom">
                {plan.columns.map((c, n) => (
                  <td key={n} className="pb-2 pr-2">
                    <label className="block">
                      <span className="block truncate font-semibold">{c.head || `column ${n + 1}`}</span>
                      <span className="block truncate font-figures text-fine text-second">{c.sample || "empty"}</span>
                      <select
                        className={`inkbox mt-1 w-full px-1 py-0.5 ${c.meaning === "leave out" ? "text-second" : "font-semibold"}`}
                        value={c.meaning}
                        onChange={(e) =>
                          setMeanings(
                            plan.columns.map((x, i) =>
                              i === n
                                ? e.target.value
                                : x.meaning === e.target.value && x.meaning !== "leave out"
                                  ? "leave out"
                                  : x.meaning,
                            ),
                          )
                        }
                      >
                        {plan.meanings.map((m) => (
                          <option key={m} value={m}>
                            {m}
                          </option>
                        ))}
                      </select>
                    </label>
                  </td>
                ))}
              </tr>
            </tbody>
          </table>
          <ol className="mt-2">
            {plan.lines.map((l) => (
              <li
                key={l.number}
                className="grid grid-cols-[40px_minmax(0,1fr)_minmax(0,1.2fr)] gap-x-3 border-b border-faint py-1 text-plain"
                style={{ contentVisibility: "auto", containIntrinsicBlockSize: "auto 29px" }}
              >
                <span className="text-right font-figures text-second">{l.number}</span>
                <span className="truncate font-figures text-fine text-second" title={l.text}>
                  {l.text.replaceAll("\t", "  ")}
                </span>
                {l.problem ? (
                  <span className="text-madder">
                    <strong>Not understood:</strong> {l.problem}
                  </span>
                ) : (
                  <span>
                    {l.says}
                    {l.notes.length > 0 && <span className="text-second">; {l.notes.join("; ")}</span>}
                  </span>
                )}
              </li>
            ))}
          </ol>
        </>
      )}
    </>
  );
}
