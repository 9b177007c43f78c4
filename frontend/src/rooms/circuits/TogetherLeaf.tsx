import { useMemo } from "react";
import { pointer } from "../../api/client";
import { useCatalogue, useDesign, useFuture, useActs } from "../../api/design";
import { EntryGrid } from "../../components/EntryGrid";
import { listed } from "../../components/fields";
import { mass, money, nextOrder, trim, unitsOf } from "../../format";
import { busFields, groupFields } from "./specs";

/** Circuits that belong together: twisted pairs, shields, cables, data buses, and conductors for later. */
export function TogetherLeaf() {
  const { design } = useDesign();
  const units = unitsOf(design.document);
  const { edit, act, doIt } = useActs();
  const catalogue = useCatalogue();
  const { groups, buses, circuits, future_in: futureIn } = design.document.circuits;
  const cables = useMemo(
    () =>
      (catalogue?.wires ?? [])
        .filter((w) => w.cores > 1 || w.construction !== "single")
        .map((w) => ({ value: w.code, label: w.code })),
    [catalogue],
  );
  const groupSpecs = useMemo(() => groupFields(cables), [cables]);
  const busSpecs = useMemo(() => busFields(catalogue?.buses ?? []), [catalogue]);
  const next = (prefix: string, taken: Record<string, unknown>) => {
    let n = 1;
    while (`${prefix}${n}` in taken) n += 1;
    return `${prefix}${n}`;
  };
  const optional = Object.entries(circuits).filter(([, c]) => c.optional);
  const future = useFuture().data?.future;
  return (
    <>
      <h2 className="mb-1 text-head">Pairs, shields and cables</h2>
      <EntryGrid
        label="Groups"
        at={["circuits", "groups"]}
        entries={groups}
        idHead="Group"
        specs={groupSpecs}
        onNew={{
          prompt:
            "new pair: the circuits in it, like C4 C5, or shielded pair speed: C4, C5, drain to A1.SH, open at G2",
          commit: (typed) => {
            if (typed.includes(":")) return act("feed", typed);
            const id = next("G", groups);
            const members = listed(typed);
            const count = Object.keys(members).length;
            return edit(
              [
                {
                  op: "add",
                  path: pointer("circuits", "groups", id),
                  value: {
                    order: nextOrder(groups),
                    kind: count === 3 ? "three" : count > 3 ? "cable" : "pair",
                    name: "",
                    members,
                    shield: null,
                    shield_rule: "one end",
                    shield_open: null,
                    family: null,
                  },
                },
              ],
              `group ${id}`,
            );
          },
        }}
      />
      <h2 className="mb-1 mt-7 text-head">Data buses</h2>
      <EntryGrid
        label="Buses"
        at={["circuits", "buses"]}
        entries={buses}
        idHead="Bus"
        specs={busSpecs}
        onNew={{
          prompt: "new bus: its circuits, like C30 C31",
          commit: (typed) => {
            const id = next("BUS", buses);
            return edit(
              [
                {
                  op: "add",
                  path: pointer("circuits", "buses", id),
                  value: {
                    order: nextOrder(buses),
                    standard: catalogue?.buses[0] ?? "",
                    name: "",
                    circuits: listed(typed),
                    terminators: {},
                  },
                },
              ],
              `bus ${id}`,
            );
          },
        }}
      />
      <h2 className="mb-1 mt-7 text-head">Conductors for later</h2>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          className="h-4 w-4 accent-(--ink)"
          checked={futureIn}
          onChange={(e) =>
            void doIt(
              [{ op: "replace", path: "/circuits/future_in", value: e.target.checked }],
              e.target.checked ? "lay the conductors for later" : "leave out the conductors for later",
            )
          }
        />
        lay them in this harness
      </label>
      {optional.length === 0 ? (
        <p className="mt-1 max-w-[80ch] text-second">
          None. Open a circuit and mark it as for later, to see what it weighs and to take all of them out with this one
          switch.
        </p>
      ) : (
        <>
          {future && (
            <p className="mt-1">
              Laid, they come to <strong>{future.wires}</strong> {future.wires === 1 ? "wire" : "wires"},{" "}
              <strong>{trim(future.metres, 2)} m</strong>, <strong>{mass(future.grams, units, 1)}</strong> and{" "}
              <strong>{money(future.cost, design.document.brief)}</strong> in cost.
            </p>
          )}
          <ul className="mt-1">
            {optional.map(([id, c]) => (
              <li key={id}>
                <strong className="font-figures">{id}</strong> {c.name}
                {c.laid ? "" : ", not laid even then"}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
