import { GIVEN_OUT, type GivenOut } from "../../api/values";
import { useCallback, useMemo, useState } from "react";
import { pointer } from "../../api/client";
import { useDesign, useActs, useWhy } from "../../api/design";
import { usePinout } from "../../api/ends";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { useSay } from "../../components/Notice";
import { Swatch } from "../../components/Swatch";
import { inOrder } from "../../format";
import type { Cavity, Connector } from "./types";
import { spent } from "../../components/spent";

const KEPT: Record<string, string> = { locked: "lock", plugged: "plug", reserved: "kept", open: "open" };

interface Props {
  connector: Connector;
  chosen: string | null;
  onChoose: (c: string) => void;
}

/** The ways of a connector: what is on each, given by typing, by a rule, exchanged, kept. */
export function Pinout({ connector, chosen, onChoose }: Props) {
  const { design, before } = useDesign();
  const was = useCallback(
    (c: Cavity) =>
      (before?.evaluation.ends.connectors[connector.id]?.cavities as Cavity[] | undefined)?.find(
        (b) => b.cavity === c.cavity && b.pin === c.pin,
      ),
    [before, connector.id],
  );
  const { edit, doIt } = useActs();
  const { askWhy, closeWhy } = useWhy();
  const { document, evaluation } = design;
  const stated = document.ends.connectors[connector.id];
  const columns = useMemo<Column<Cavity>[]>(() => {
    const free = inOrder(document.circuits.devices).flatMap(([id, d]) =>
      Object.entries(d.pins)
        .filter(([pin]) => !(`${id}.${pin}` in document.ends.pinout))
        .map(([pin, p]) => ({ value: `${id}.${pin}`, label: `${id}.${pin} ${p.name}` })),
    );
    const kept = (c: Cavity) =>
      c.pin
        ? document.ends.pinout[c.pin]?.locked
          ? "locked"
          : ""
        : (stated?.spares[c.cavity]?.state ?? (c.cavity_plug ? "plugged" : ""));
    return [
      {
        key: "cavity",
        head: "Way",
        width: "36px",
        figures: true,
        text: (c) => c.cavity,
        show: (c) => <strong className="text-lead">{c.cavity}</strong>,
      },
      {
        key: "pin",
        head: "Device pin",
        width: "minmax(80px,1.2fr)",
        text: (c) => c.pin ?? "",
        show: (c) =>
          c.pin ? (
            c.pin.startsWith(`${connector.id}.`) ? (
              c.pin_name
            ) : (
              `${c.pin.split(".")[0] ?? ""} ${c.pin_name}`
            )
          ) : (
            <span className="text-second">
              {c.pin_name && c.pin_name !== "plugged"
                ? `kept: ${c.pin_name}`
                : c.cavity_plug
                  ? "spare, plugged"
                  : "spare"}
            </span>
          ),
        title: (c) => c.pin ?? "",
        choices: (c) => [...(c.pin ? [{ value: "free", label: "leave it free" }] : []), ...free],
        begin: () => "",
        commit: (c, v) => {
          const remove = c.pin ? [{ op: "remove" as const, path: pointer("ends", "pinout", c.pin) }] : [];
          if (v === "free" || v === "") return edit(remove, `free ${connector.id}-${c.cavity}`);
          const order = Math.max(0, ...Object.values(document.ends.pinout).map((e) => e.order)) + 1;
          const moved = v in document.ends.pinout;
          return edit(
            [
              ...remove,
              {
                op: moved ? "replace" : "add",
                path: pointer("ends", "pinout", v),
                value: { order, connector: connector.id, cavity: c.cavity },
              },
            ],
            `${v} to ${connector.id}-${c.cavity}`,
          );
        },
      },
      {
        key: "kept",
        head: "Kept",
        width: "48px",
        text: kept,
        show: (c) => <span className="text-fine text-second">{KEPT[kept(c)] ?? ""}</span>,
        choices: (c) =>
          c.pin
            ? [
                { value: "locked", label: "locked: stays on this way" },
                { value: "free", label: "may be moved" },
              ]
            : [
                { value: "plugged", label: "plugged" },
                { value: "reserved", label: "kept for later" },
                { value: "open", label: "left open" },
              ],
        begin: () => "",
        commit: (c, v) => {
          if (c.pin)
            return edit(
              [{ op: "replace", path: pointer("ends", "pinout", c.pin, "locked"), value: v === "locked" }],
              `${connector.id}-${c.cavity} ${v === "locked" ? "locked" : "may move"}`,
            );
          const path = pointer("ends", "connectors", connector.id, "spares", c.cavity);
          const had = stated?.spares[c.cavity];
          if (v === "") return edit(had ? [{ op: "remove", path }] : [], `${connector.id}-${c.cavity} as usual`);
          return edit(
            [
              {
                op: had ? "replace" : "add",
                path,
                value: { order: had?.order ?? 1, state: v, reason: had?.reason ?? "" },
              },
            ],
            `${connector.id}-${c.cavity} ${v}`,
          );
        },
      },
      {
        key: "wire",
        head: "Wire",
        width: "minmax(138px,1fr)",
        text: (c) => (c.wire ? (evaluation.wire.wires[c.wire]?.label ?? "") : ""),
        show: (c) => {
          const wire = c.wire ? evaluation.wire.wires[c.wire] : undefined;
          return wire ? (
            <>
              <Swatch colour={wire.colour} width={24} />{" "}
              <strong className="font-figures text-fine" title={wire.label}>
                {wire.label}
              </strong>
            </>
          ) : (
            ""
          );
        },
      },
    ];
  }, [connector.id, document, edit, evaluation, stated]);
  return (
    <>
      <Grid
        label={`Ways of ${connector.id}`}
        rows={connector.cavities as Cavity[]}
        columns={columns}
        rowKey={(c) => `${c.cavity}${c.pin ? `:${c.pin}` : ""}`}
        was={was}
        selected={
          connector.cavities
            .filter((c) => c.cavity === chosen)
            .map((c) => `${c.cavity}${c.pin ? `:${c.pin}` : ""}`)[0] ?? null
        }
        onSelect={(c) => {
          closeWhy();
          onChoose(c.cavity);
        }}
        onWhy={(c) => c.wire && c.pin && askWhy("contact", `${c.pin} ${c.wire}`)}
        onDelete={(c) => {
          if (c.pin)
            void doIt([{ op: "remove", path: pointer("ends", "pinout", c.pin) }], `free ${connector.id}-${c.cavity}`);
        }}
        rowHeight={36}
      />
      <Acts connector={connector} />
    </>
  );
}

/** What is done with all ways at once: given out by a rule, two exchanged, cleared. */
function Acts({ connector }: { connector: Connector }) {
  const { act } = usePinout();
  const say = useSay();
  const [rule, setRule] = useState<GivenOut>("as the device");
  const [swapped, setSwapped] = useState("");
  const [problem, setProblem] = useState<string | null>(null);
  const none = { connector: connector.id, a: "", b: "" };
  const exchange = async () => {
    const [a = "", b = ""] = swapped.split(/[\s,;]+|with|and/).filter(Boolean);
    if (!a || !b) {
      setProblem("Write two ways, like 3 7.");
      return;
    }
    const found = await act({ ...none, act: "swap", a, b });
    setProblem(found?.detail ?? null);
    if (!found) setSwapped(spent(swapped));
  };
  return (
    <div className="mt-2 text-plain">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <label className="flex items-center gap-2">
          <span className="text-second">give ways out</span>
          <select className="inkbox py-0.5" value={rule} onChange={(e) => setRule(e.target.value as GivenOut)}>
            {GIVEN_OUT.map((r) => (
              <option key={r}>{r}</option>
            ))}
          </select>
          <button
            className="press"
            onClick={() => void act({ ...none, act: "give out", rule }).then((p) => setProblem(p?.detail ?? null))}
          >
            Give
          </button>
        </label>
        <form
          className="flex items-center gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void exchange();
          }}
        >
          <label className="flex items-center gap-2">
            <span className="text-second">exchange</span>
            <input
              className="inkbox w-[70px] py-0.5 font-figures"
              placeholder="3 7"
              value={swapped}
              onChange={(e) => setSwapped(e.target.value)}
            />
          </label>
        </form>
        <button
          className="quiet"
          onClick={() =>
            void act({ ...none, act: "clear" }).then((p) => {
              setProblem(p?.detail ?? null);
              if (!p) say(`Every way of ${connector.id} that is not locked is free. Ctrl+Z brings them back.`);
            })
          }
        >
          free all
        </button>
      </div>
      {problem && (
        <p role="alert" className="mt-1 text-madder">
          {problem}
        </p>
      )}
    </div>
  );
}
