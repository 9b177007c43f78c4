import { useMemo } from "react";
import { pointer, type HarnessDocument } from "../../api/client";
import { useDesign, useLoads, useActs } from "../../api/design";
import { EntryGrid } from "../../components/EntryGrid";
import { freeId, type FieldSpec } from "../../components/fields";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { Sentence } from "../../components/Sentence";
import { amperes, inOrder, nextOrder, trim } from "../../format";
import { SOURCE } from "./specs";

const MODE: FieldSpec[] = [{ key: "name", label: "Mode", kind: "text" }];

/** Every source, the modes the machine is run in, and what each source is asked for in each. */
export function SupplyLeaf() {
  const { design } = useDesign();
  const { edit, doIt } = useActs();
  const { sources, modes, devices } = design.document.circuits;
  const addSource = (typed: string) => {
    const id = typed.trim();
    const pins = inOrder(devices[id]?.pins ?? {});
    const supply = pins.find(([, p]) => p.role === "supply_out")?.[0] ?? "";
    const back = pins.find(([, p]) => p.role === "ground")?.[0] ?? "";
    return edit(
      [
        {
          op: "add",
          path: pointer("circuits", "sources", freeId(id, sources).toUpperCase()),
          value: { order: nextOrder(sources), device: id, supply_pin: supply, return_pin: back, kind: "battery" },
        },
      ],
      `${id} is a source`,
    );
  };
  const specs = useMemo<FieldSpec[]>(
    () => [
      {
        key: "device",
        label: "Device",
        kind: "choice",
        choices: inOrder(devices).map(([d, x]) => ({ value: d, label: `${d} ${x.name}`.trim() })),
        width: "minmax(130px,1.6fr)",
      },
      ...SOURCE,
    ],
    [devices],
  );
  return (
    <>
      <h2 className="mb-1 text-head">Sources</h2>
      <EntryGrid
        label="Sources"
        at={["circuits", "sources"]}
        entries={sources}
        specs={specs}
        onNew={{ prompt: "another source: the device it is, like B2", commit: addSource }}
      />
      <h2 className="mb-1 mt-7 text-head">Modes</h2>
      <p className="mb-1 max-w-[80ch] text-second">
        What runs together: start, run, emergency. A wire and a fuse are sized for the mode that asks most of them.
      </p>
      <div className="max-w-[420px]">
        <EntryGrid
          label="Modes"
          at={["circuits", "modes"]}
          entries={modes}
          specs={MODE}
          onNew={{
            prompt: "new mode: start",
            commit: (typed) =>
              edit(
                [
                  {
                    op: "add",
                    path: pointer("circuits", "modes", freeId(typed, modes)),
                    value: { order: nextOrder(modes), name: typed.trim() },
                  },
                ],
                `mode ${typed}`,
              ),
          }}
          onDelete={(id) => void doIt(withoutMode(design.document.circuits, id), `take out mode ${id}`)}
        />
      </div>
      {Object.keys(modes).length > 0 && <Shares />}
      <Analysis />
    </>
  );
}

type Circuits = HarnessDocument["circuits"];

function withoutMode(circuits: Circuits, mode: string) {
  const held = (["loads", "sources"] as const).flatMap((of) =>
    Object.entries(circuits[of])
      .filter(([, e]) => mode in e.modes)
      .map(([id]) => ({ op: "remove" as const, path: pointer("circuits", of, id, "modes", mode) })),
  );
  return [...held, { op: "remove" as const, path: pointer("circuits", "modes", mode) }];
}

type Load = [string, Circuits["loads"][string]];

/** How much of each load runs in each mode, in per cent. */
function Shares() {
  const { design } = useDesign();
  const { edit } = useActs();
  const { loads, modes, devices } = design.document.circuits;
  const columns = useMemo<Column<Load>[]>(
    () => [
      {
        key: "load",
        head: "Load",
        width: "minmax(150px,2fr)",
        text: ([, l]) => `${l.device} ${devices[l.device]?.name ?? ""}`,
        show: ([, l]) => (
          <>
            <strong className="font-figures">{l.device}</strong>&nbsp; {devices[l.device]?.name}
          </>
        ),
      },
      {
        key: "draws",
        head: "Load current",
        width: "84px",
        align: "right",
        figures: true,
        text: ([, l]) => amperes(l.current_a),
      },
      ...inOrder(modes).map<Column<Load>>(([mode, m]) => ({
        key: mode,
        head: m.name,
        width: "88px",
        align: "right",
        figures: true,
        text: ([, l]) => `${trim(l.modes[mode]?.percent ?? 100, 1)} %`,
        show: ([, l]) => {
          const share = l.modes[mode]?.percent ?? 100;
          return share === 0 ? <span className="text-second">off</span> : `${trim(share, 1)} %`;
        },
        begin: ([, l]) => trim(l.modes[mode]?.percent ?? 100, 1),
        commit: ([id, l], typed) => {
          const path = pointer("circuits", "loads", id, "modes", mode);
          const value = typed.trim().toLowerCase() === "off" ? "0" : typed.trim() || "100";
          return edit(
            [{ op: mode in l.modes ? "replace" : "add", path, value: { order: nextOrder(l.modes), percent: value } }],
            `${l.device} in ${m.name}`,
          );
        },
      })),
    ],
    [devices, edit, modes],
  );
  return (
    <>
      <h2 className="mb-1 mt-7 text-head">What runs in each</h2>
      <Grid label="What runs in each mode" rows={inOrder(loads)} columns={columns} rowKey={([id]) => id} />
    </>
  );
}

/** What every source is asked for, by mode: figures, and a bar to see it by. */
function Analysis() {
  const { data, error } = useLoads();
  const devices = useDesign().design.document.circuits.devices;
  if (error) return <p className="mt-6 text-madder">{error.message}</p>;
  if (!data) return <p className="mt-6 text-second">Adding up ...</p>;
  return (
    <>
      <h2 className="mb-1 mt-7 text-head">What the sources are asked for</h2>
      {data.groups.length === 0 && <p className="text-second">No source yet.</p>}
      {data.groups.map((g) => {
        const most = Math.max(...g.demands.map((d) => Math.max(d.peak_a, d.charged_a)), 0.001);
        return (
          <section key={g.sources.join()} className="mb-6" aria-label={g.name}>
            <h3 className="mb-1 mt-3 text-lead">{g.name}</h3>
            {g.demands.map((d, m) => (
              <div key={d.mode} className="grid grid-cols-[110px_minmax(0,1fr)] gap-x-3 border-b border-faint py-2">
                <strong>{data.modes[m] || "all at once"}</strong>
                <div>
                  <Bar
                    most={most}
                    mean={d.continuous_a}
                    together={d.together_a}
                    peak={d.peak_a}
                    charged={d.charged_a}
                  />
                  <p className="mt-1 text-plain">
                    <Sentence text={said(d)} />
                  </p>
                </div>
              </div>
            ))}
            <table className="mt-2 w-full max-w-[720px] text-plain">
              <thead className="text-left text-second">
                <tr className="border-b border-ink">
                  <th className="font-normal">mean current of</th>
                  {g.demands.map((d, m) => (
                    <th key={d.mode} className="text-right font-normal">
                      {data.modes[m] || "all at once"}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {g.loads.map((l) => (
                  <tr key={l.load} className="border-b border-faint">
                    <td className="py-0.5">
                      <strong className="font-figures">{l.device}</strong> {devices[l.device]?.name}
                    </td>
                    {l.by_mode.map((a, m) => (
                      <td key={m} className="text-right font-figures">
                        {amperes(a)}
                      </td>
                    ))}
                  </tr>
                ))}
                <tr className="font-bold">
                  <td className="py-0.5">in all</td>
                  {g.demands.map((d) => (
                    <td key={d.mode} className="text-right font-figures">
                      {amperes(d.continuous_a)}
                    </td>
                  ))}
                </tr>
              </tbody>
            </table>
          </section>
        );
      })}
      <p className="text-plain text-second">
        Solid: on average. Outlined: all that runs in the mode at once. Thin line: with the one largest peak on top.
        Verdigris mark: what can be given.
      </p>
    </>
  );
}

interface Demand {
  continuous_a: number;
  together_a: number;
  peak_a: number;
  charged_a: number;
  endurance_h: number | null;
  short_a: number;
}

function said(d: Demand): string {
  const parts = [
    `**${amperes(d.continuous_a)}** on average, **${amperes(d.together_a)}** at once, **${amperes(d.peak_a)}** at the peak.`,
  ];
  if (d.charged_a > 0) parts.push(`**${amperes(d.charged_a)}** can be given.`);
  if (d.endurance_h !== null) parts.push(`The battery lasts **${hours(d.endurance_h)}**.`);
  if (d.short_a > 0) parts.push(`**${amperes(d.short_a)}** short.`);
  return parts.join(" ");
}

function hours(h: number): string {
  if (h >= 48) return `${trim(h / 24, 1)} days`;
  const minutes = Math.round(h * 60);
  return h >= 1 ? `${Math.floor(minutes / 60)} h ${minutes % 60} min` : `${minutes} min`;
}

function Bar({
  most,
  mean,
  together,
  peak,
  charged,
}: {
  most: number;
  mean: number;
  together: number;
  peak: number;
  charged: number;
}) {
  const part = (a: number) => `${(Math.min(a / most, 1) * 98).toFixed(2)}%`;
  const over = charged > 0 && mean > charged;
  return (
    <svg width="100%" height={22} aria-hidden="true">
      <line x1="0" x2={part(peak)} y1="11" y2="11" stroke="var(--ink-second)" strokeWidth={1.5} />
      <line x1={part(peak)} x2={part(peak)} y1="6" y2="16" stroke="var(--ink-second)" strokeWidth={1.5} />
      <rect x="0.5" y="4" height="14" width={part(together)} fill="var(--sheet)" stroke="var(--ink)" />
      <rect x="0" y="4" height="14" width={part(mean)} fill={over ? "var(--ochre)" : "var(--ink)"} />
      {charged > 0 && (
        <line x1={part(charged)} x2={part(charged)} y1="0" y2="22" stroke="var(--verdigris)" strokeWidth={3} />
      )}
    </svg>
  );
}
