import { pointer } from "../../api/client";
import { useActs, useDesign } from "../../api/design";
import { useConventions, useShop } from "../../api/ends";
import { useSay } from "../../components/Notice";
import { ChoiceField, TypedField } from "../../components/TypedField";
import { shopLines } from "./shopLines";

const CHOICES = [
  [
    "units",
    "Lengths",
    [
      ["metric", "millimetres"],
      ["inch", "inches"],
      ["both", "millimetres, inches behind them"],
    ],
  ],
  [
    "mass_unit",
    "Mass",
    [
      ["g", "grams"],
      ["oz", "ounces"],
    ],
  ],
  [
    "temperature_unit",
    "Temperature",
    [
      ["C", "°C"],
      ["F", "°F"],
    ],
  ],
  [
    "paper",
    "Paper",
    [
      ["A4", "A4"],
      ["Letter", "Letter"],
    ],
  ],
] as const;

/** In what units figures are shown, how money is written, on what is printed; kept for the shop at one stroke. */
export function ShownIn() {
  const { design } = useDesign();
  const { edit } = useActs();
  const { data: kept } = useConventions();
  const { agree } = useShop();
  const say = useSay();
  const brief = design.document.brief;
  const set = (field: string, value: unknown, label: string) =>
    edit([{ op: "replace", path: pointer("brief", field), value }], label);
  const keep = async () => {
    const problem = await agree(shopLines(kept?.text ?? "", brief));
    say(problem ? problem.detail : "Kept. Every new harness begins so.");
  };
  return (
    <div className="max-w-[640px]">
      {CHOICES.map(([field, label, choices]) => (
        <ChoiceField
          key={field}
          label={label}
          value={brief[field]}
          choices={choices.map(([value, words]) => ({ value, label: words }))}
          onCommit={(v) => set(field, v, `${label.toLowerCase()} in ${v}`)}
        />
      ))}
      <TypedField
        label="Currency"
        value={brief.currency}
        placeholder="none"
        onCommit={(v) => set("currency", v.trim(), "currency")}
        hint="Written beside prices; nothing is changed over."
      />
      {brief.currency && (
        <ChoiceField
          label="Currency stands"
          value={brief.currency_first ? "before" : "after"}
          choices={[
            { value: "before", label: "before the figure" },
            { value: "after", label: "after it" },
          ]}
          onCommit={(v) => set("currency_first", v === "before", `currency ${v} the figure`)}
        />
      )}
      {kept && (
        <button type="button" className="quiet mt-2" onClick={() => void keep()}>
          Begin every new harness so
        </button>
      )}
    </div>
  );
}
