import { THREADINGS } from "../../api/values";
import { pointer } from "../../api/client";
import { useCatalogue, useDesign, useThreading, useActs } from "../../api/design";
import { Underway } from "../../components/Underway";
import { Fields } from "../../components/Fields";
import { spoken, type FieldSpec } from "../../components/fields";
import { Fact, Sheet } from "../../components/Sheet";
import { amperes, inOrder, mass, trim, unitsOf } from "../../format";

/** One circuit: how it is joined, in what wire, and what the other ways would come to. */
export function CircuitCard({ circuit: id }: { circuit: string }) {
  const { design } = useDesign();
  const catalogue = useCatalogue();
  const circuit = design.document.circuits.circuits[id];
  const seen = design.evaluation.circuits.circuits[id];
  if (!circuit) return null;
  const points = inOrder(design.document.route.points).map(([p, x]) => ({
    value: p,
    label: x.name && x.name !== p ? `${p} ${x.name}` : p,
  }));
  const families = [
    ...Object.keys(design.document.wire.own_families).map((f) => ({ value: f, label: f })),
    ...(catalogue?.wires ?? []).map((w) => ({ value: w.code, label: w.code })),
  ];
  const ends = Object.keys(circuit.ends).length;
  const wires = Object.values(design.evaluation.wire.wires).filter((w) => w.circuit === id);
  const specs: FieldSpec[] = [
    { key: "name", label: "name", kind: "text" },
    { key: "family", label: "wire", kind: "choice", choices: families, empty: "the harness's own" },
    ...(ends > 2
      ? [
          {
            key: "threading",
            label: "joined by",
            kind: "choice" as const,
            choices: spoken(THREADINGS),
            empty: "cascade, by default",
          },
          { key: "hub", label: "hub at", kind: "choice" as const, choices: points, empty: "where it is shortest" },
        ]
      : []),
    { key: "optional", label: "for later", kind: "flag", hint: "a conductor for a future need" },
    ...(design.document.brief.job === "replacement" || circuit.old_colour
      ? [
          {
            key: "old_colour",
            label: "was",
            kind: "text" as const,
            hint: "colour of the wire that it takes the place of",
            empty: "colour not noted",
          },
          {
            key: "old_mark",
            label: "tagged",
            kind: "text" as const,
            hint: "how it was told from others of that colour, before it was cut",
            empty: "no tag",
          },
        ]
      : []),
    ...(circuit.optional ? [{ key: "laid", label: "laid now", kind: "flag" as const }] : []),
  ];
  return (
    <Sheet label={`Circuit ${id}`}>
      <h2 className="text-head leading-tight">{id}</h2>
      <p className="mb-2 text-plain text-second">{circuit.name}</p>
      <Fields at={["circuits", "circuits", id]} entry={{ ...circuit }} specs={specs} about={id} />
      <dl className="mt-3 border-t border-rule pt-2 text-base">
        <Fact name="carries">{amperes(seen?.carries_a ?? 0)}</Fact>
        <Fact name="wires">
          {wires.length === 0 ? "none yet" : wires.map((w) => `${w.label} ${w.gauge}`).join(", ")}
        </Fact>
      </dl>
      {ends > 2 && <Ways circuit={id} />}
    </Sheet>
  );
}

function Ways({ circuit }: { circuit: string }) {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const { doIt } = useActs();
  const { data, error, isPending, share } = useThreading(circuit);
  const named = design.document.circuits.circuits[circuit];
  return (
    <>
      <h3 className="mb-1 mt-4 text-lead">Ways of joining it</h3>
      {isPending && <Underway text="Calculating five ways" share={share} />}
      {error && <p className="text-madder">{error.message}</p>}
      {data && (
        <table className="w-full text-fine">
          <thead className="text-left text-second">
            <tr className="border-b border-ink">
              <th className="font-normal">way</th>
              <th className="text-right font-normal">splices</th>
              <th className="text-right font-normal">m</th>
              <th className="text-right font-normal">g</th>
              <th className="text-right font-normal">drop</th>
            </tr>
          </thead>
          <tbody>
            {data.ways.map((w) => (
              <tr key={w.threading} className={`border-b border-faint ${w.chosen ? "bg-wash font-bold" : ""}`}>
                <td className="py-1">
                  {w.chosen ? (
                    w.threading
                  ) : (
                    <button
                      className="quiet"
                      title="Join it so"
                      onClick={() =>
                        void doIt(
                          [
                            {
                              op: named && "threading" in named ? "replace" : "add",
                              path: pointer("circuits", "circuits", circuit, "threading"),
                              value: w.threading,
                            },
                          ],
                          `${circuit} by ${w.threading}`,
                        )
                      }
                    >
                      {w.threading}
                    </button>
                  )}
                  {w.stops > 0 && (
                    <span className="block text-madder">
                      {w.stops === 1 ? "one stop more" : `${w.stops} stops more`}
                    </span>
                  )}
                </td>
                <td className="text-right font-figures">{w.splices}</td>
                <td className="text-right font-figures">{trim(w.metres, 2)}</td>
                <td className="text-right font-figures">{mass(w.grams, units)}</td>
                <td className="text-right font-figures">
                  {w.worst_drop_percent === null ? "–" : `${trim(w.worst_drop_percent, 1)} %`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="mt-1 text-fine text-second">
        Of this circuit's own wires and joints; drop is the worst of the loops through it.
      </p>
    </>
  );
}
