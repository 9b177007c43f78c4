import { Link } from "react-router";
import { isProblem, useBuying, useCoverage, useKits, type CoveredLine } from "../../api/buying";
import { useActs, useDesign } from "../../api/design";
import { useSay } from "../../components/Notice";
import { Swatch } from "../../components/Swatch";
import { nextOrder } from "../../format";
import { pointer } from "../../api/client";
import { atHand, amount, billKey } from "./lines";

/** What the drawers give: where each part lies, what is set aside for whom, kits, and what to refill after. */
export function DrawersLeaf() {
  const coverage = useCoverage().data?.coverage;
  if (!coverage) return <p className="text-second">Opening the drawers ...</p>;
  const { refill } = coverage;
  const kits = coverage.kits.filter((k) => k.ways > 0);
  const there = coverage.lines.filter((l) => l.entry !== "");
  const covered = coverage.lines.filter((l) => l.to_buy === 0).length;
  return (
    <section>
      <p className="mb-2 text-plain text-second">
        {covered === 0
          ? "Nothing of this is noted as at hand."
          : `${covered} of ${coverage.lines.length} lines are at hand.`}{" "}
        <Link className="quiet" to="/drawers/stock">
          say what is at hand
        </Link>
      </p>
      {there.length > 0 && <Lying lines={there} />}
      {kits.length > 0 && (
        <table className="mt-5 w-full max-w-[980px] text-plain" aria-label="Kits at hand">
          <thead className="text-left text-fine text-second">
            <tr className="border-b border-ink">
              <th className="py-1">Kit</th>
              <th>Contacts</th>
              <th className="text-right">Ways</th>
              <th className="text-right">Contacts</th>
              <th className="text-right">Short</th>
              <th className="pl-6">By the wire they take</th>
            </tr>
          </thead>
          <tbody>
            {kits.map((k) => (
              <tr key={`${k.families} ${k.gender}`} className="border-b border-faint align-top">
                <td className="py-1.5 font-figures font-bold">{k.families}</td>
                <td className="py-1.5">{k.gender === "none" ? "genderless" : `${k.gender}s`}</td>
                <td className="py-1.5 text-right font-figures">{k.ways}</td>
                <td className="py-1.5 text-right font-figures">{k.contacts}</td>
                <td className={`py-1.5 text-right font-figures ${k.short > 0 ? "text-madder" : "text-second"}`}>
                  {k.short > 0 ? k.short : "–"}
                </td>
                <td className="py-1.5 pl-6 text-fine">
                  {k.ranges.map((r) => (
                    <span key={r.code} className={`block ${r.needed > r.at_hand ? "text-madder" : ""}`}>
                      <strong className="font-figures">{r.code}</strong> {r.takes}: {r.at_hand} at hand
                      {r.needed > 0 && `, this job takes ${r.needed}`}
                    </span>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {refill.length > 0 && (
        <p className="mt-2 max-w-[92ch]">
          To refill the drawer after it:{" "}
          {refill.map((r, n) => (
            <span key={`${r.code} ${r.colour}`}>
              {n > 0 && ", "}
              <strong className="font-figures">
                {[amount(r.refill, r.unit), r.code, r.colour].filter(Boolean).join(" ")}
              </strong>
            </span>
          ))}
          .
        </p>
      )}
      <Kits />
    </section>
  );
}

/** Parts of this harness that lie in the drawers, and what is done with them. */
function Lying({ lines }: { lines: CoveredLine[] }) {
  const { aside } = useBuying();
  const say = useSay();
  const aside_of = lines.some((l) => l.set_aside > 0);
  const act = async (what: "set aside" | "let go" | "used", entries: Record<string, number> = {}) => {
    const said = await aside(what, entries);
    if (isProblem(said)) say(said.detail);
    else if (what === "used")
      say("Taken out of the drawers.", { label: "Put it back", run: () => void aside("put back", said) });
    else if (what === "let go")
      say("Free for other harnesses.", { label: "Set it aside again", run: () => void aside("set aside", said) });
    else say("Set aside for this harness.", { label: "Let it go", run: () => void aside("let go") });
  };
  return (
    <>
      <p className="mb-2 flex flex-wrap items-center gap-4">
        <button className="press" onClick={() => void act("set aside")}>
          Set all of it aside
        </button>
        {aside_of && (
          <button className="quiet" onClick={() => void act("let go")}>
            let it go
          </button>
        )}
        <button className="quiet" onClick={() => void act("used")}>
          take all of it out of the drawers
        </button>
      </p>
      <table className="w-full max-w-[980px] text-plain" aria-label="In the drawers">
        <thead className="text-left text-fine text-second">
          <tr className="border-b border-ink">
            <th className="py-1">Part</th>
            <th>Drawer</th>
            <th className="text-right">Need</th>
            <th className="text-right">From here</th>
            <th className="text-right">Set aside</th>
            <th className="text-right">For others</th>
            <th>
              <span className="sr-only">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {lines.map((l) => (
            <tr key={billKey(l)} className="border-b border-faint align-baseline">
              <td className="py-1.5">
                <strong className="font-figures">{l.code}</strong> {l.colour && <Swatch colour={l.colour} width={30} />}{" "}
                <span className="text-second">{l.description}</span>
              </td>
              <td className="whitespace-nowrap pr-2">{l.place || <span className="text-second">not said</span>}</td>
              <td className="text-right font-figures">{amount(l.needed, l.unit)}</td>
              <td className="text-right font-figures">{atHand(l.from_drawer, l.unit)}</td>
              <td className="text-right font-figures">{l.set_aside > 0 ? atHand(l.set_aside, l.unit) : "–"}</td>
              <td className="text-right font-figures">{l.others > 0 ? amount(l.others, l.unit) : "–"}</td>
              <td className="pl-3 text-right">
                {l.from_drawer > 0 && (
                  <button className="quiet" onClick={() => void act("used", { [l.entry]: l.from_drawer })}>
                    take out
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

const FEW = 5;

/** Parts of a kit in words, the first few. */
function listed(parts: Record<string, number>): string {
  const all = Object.entries(parts).map(([code, n]) => `${n} ${code}`);
  return all.length > FEW
    ? `${all.slice(0, FEW).join(", ")} and ${all.length - FEW} more`
    : all.join(", ") || "nothing";
}

/** Kits that could be bought: what each covers of this harness, and whether any mix of them saves money. */
function Kits() {
  const { design } = useDesign();
  const { doIt } = useActs();
  const { data } = useKits();
  if (!data || data.kits.length === 0) return null;
  const chosen = design.document.parts.kits;
  const { mix } = data;
  const best = Object.entries(mix.kits).map(([code, n]) => `${n} ${code}`);
  return (
    <section className="mt-6">
      <h2 className="text-head">Kits to buy</h2>
      <p className="mb-1 max-w-[92ch] text-plain text-second">
        {best.length > 0
          ? `Cheapest for what is still to buy: ${best.join(" and ")} with singles, ${mix.cost.toFixed(2)} against ${mix.singles_only.toFixed(2)} singly.`
          : `Singles are cheapest for what is still to buy: ${mix.singles_only.toFixed(2)}. No kit saves anything.`}{" "}
        {mix.proved && "Less is not possible with these."}
      </p>
      <table className="w-full max-w-[980px] text-plain" aria-label="Kits">
        <thead className="text-left text-fine text-second">
          <tr className="border-b border-ink">
            <th className="w-[110px] py-1">Kit</th>
            <th className="w-[70px] text-right">Price</th>
            <th className="pl-4">Covers</th>
            <th>Short of it</th>
            <th>Left over</th>
            <th>
              <span className="sr-only">What to do</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {data.kits.map((k) => (
            <tr key={k.code} className="border-b border-faint align-baseline">
              <td className="py-1.5 font-figures font-bold" title={k.description}>
                {k.count > 1 && `${k.count} `}
                {k.code}
              </td>
              <td className="text-right font-figures">{k.price.toFixed(2)}</td>
              <td className="pl-4 text-fine">{listed(k.covers)}</td>
              <td className="text-fine">{listed(k.short)}</td>
              <td className="text-fine">{listed(k.left)}</td>
              <td className="whitespace-nowrap pl-3 text-right">
                {chosen[k.code] ? (
                  <button
                    className="quiet"
                    onClick={() =>
                      void doIt([{ op: "remove", path: pointer("parts", "kits", k.code) }], `without ${k.code}`)
                    }
                  >
                    buy singly
                  </button>
                ) : (
                  <button
                    className="quiet"
                    onClick={() =>
                      void doIt(
                        [
                          {
                            op: "add",
                            path: pointer("parts", "kits", k.code),
                            value: { order: nextOrder(chosen), count: 1 },
                          },
                        ],
                        `parts out of ${k.code}`,
                      )
                    }
                  >
                    buy it
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
