import { useMemo, useState } from "react";
import { useCatalogue, useLibrary } from "../../api/design";
import type { Column } from "../../components/columns";
import { Grid } from "../../components/Grid";
import { useSay } from "../../components/Notice";
import type { Catalogue } from "../../api/client";
import { words } from "../../format";

type Kind = Catalogue["kinds"][number];

/** The library of devices: what a typed name begins with. The shop's own stand first. */
export function LibraryLeaf() {
  const catalogue = useCatalogue();
  const { takeOut, putBack } = useLibrary();
  const say = useSay();
  const [sought, setSought] = useState("");
  const rows = useMemo(() => {
    const wanted = sought.trim().toLowerCase();
    return (catalogue?.kinds ?? []).filter(
      (k) => !wanted || [k.label, k.group, ...k.words].some((w) => w.toLowerCase().includes(wanted)),
    );
  }, [catalogue, sought]);
  const columns = useMemo<Column<Kind>[]>(
    () => [
      {
        key: "label",
        head: "Device",
        width: "minmax(150px,1fr)",
        text: (k) => k.label,
        show: (k) => <strong>{k.label}</strong>,
      },
      {
        key: "group",
        head: "Kind of",
        width: "110px",
        text: (k) => k.group,
        show: (k) => <span className={k.own ? "font-semibold text-blue" : "text-second"}>{k.group}</span>,
      },
      { key: "prefix", head: "Letter", width: "58px", figures: true, text: (k) => k.prefix },
      {
        key: "words",
        head: "Known by",
        width: "minmax(180px,1.5fr)",
        small: true,
        text: (k) => k.words.join(", "),
        title: (k) => k.words.join(", "),
      },
      {
        key: "pins",
        head: "Pins",
        width: "minmax(200px,2fr)",
        small: true,
        text: (k) => k.pins.map((p) => p.split(" ")[0]).join(" "),
        title: (k) => k.pins.map(words).join(", "),
      },
      { key: "connector", head: "Met by", width: "84px", figures: true, text: (k) => k.connector },
    ],
    [],
  );
  return (
    <>
      <p className="mb-2 max-w-[86ch] text-second">
        A typed name that holds one of these words begins with that device's pins, paths and connector. To keep one of
        your own, open it under Devices.
      </p>
      <label className="mb-3 flex max-w-[420px] items-center gap-2">
        <span className="text-second">look for</span>
        <input
          className="inkbox flex-1"
          value={sought}
          onChange={(e) => setSought(e.target.value)}
          placeholder="pump, sensor, relay"
        />
      </label>
      <Grid
        label="Device library"
        rows={rows}
        columns={columns}
        rowKey={(k) => k.id}
        onDelete={(k) => {
          if (!k.own) {
            say("This one ships with the program. Only your own can be taken out.");
            return;
          }
          void takeOut(k.id).then((problem) => {
            if (problem) say(problem.detail);
            else say(`${k.label} is out of the library.`, { label: "Put it back", run: () => void putBack(k.id) });
          });
        }}
        empty={sought ? "Nothing of that name." : "The library is being fetched ..."}
      />
    </>
  );
}
