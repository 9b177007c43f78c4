import { pointer } from "../api/client";
import { useDesign, useActs } from "../api/design";
import { sent, shown, type Entry, YES_NO, type FieldSpec } from "./fields";
import { ChoiceField, FlagField, TypedField } from "./TypedField";
import { unitsOf } from "../format";

interface Props {
  /** Where the entry lies in the document. */
  at: string[];
  entry: Entry;
  specs: FieldSpec[];
  /** What it is called in undo. */
  about: string;
  wide?: boolean;
}

/** The stated fields of one entry, each sent by itself when left. */
export function Fields({ at, entry, specs, about, wide = false }: Props) {
  const { design } = useDesign();
  const { edit } = useActs();
  const units = unitsOf(design.document);
  const put = (spec: FieldSpec, typed: string) =>
    edit(
      [{ op: spec.key in entry ? "replace" : "add", path: pointer(...at, spec.key), value: sent(spec, typed) }],
      `${about} ${spec.label}`,
    );
  return (
    <>
      {specs.map((spec) => {
        const value = shown(spec, entry, units);
        const common = { label: spec.label, narrow: !wide, ...(spec.hint ? { hint: spec.hint } : {}) };
        if (spec.kind === "flag")
          return (
            <FlagField
              key={spec.key}
              {...common}
              value={value === "yes"}
              onCommit={(on) => put(spec, on ? "yes" : "no")}
            />
          );
        if (spec.kind === "maybe") {
          return (
            <ChoiceField
              key={spec.key}
              {...common}
              value={value}
              choices={[{ value: "", label: spec.empty ?? "not said" }, ...YES_NO]}
              onCommit={(v) => put(spec, v)}
            />
          );
        }
        if (spec.kind === "choice") {
          const none = spec.empty === undefined ? [] : [{ value: "", label: spec.empty }];
          const raw = entry[spec.key];
          return (
            <ChoiceField
              key={spec.key}
              {...common}
              value={typeof raw === "string" ? raw : ""}
              choices={[...none, ...(spec.choices ?? [])]}
              onCommit={(v) => put(spec, v)}
            />
          );
        }
        return (
          <TypedField
            key={spec.key}
            {...common}
            figures={spec.kind !== "text"}
            value={value}
            {...(spec.empty ? { placeholder: spec.empty } : {})}
            onCommit={(typed) => put(spec, typed)}
          />
        );
      })}
    </>
  );
}
