import { useParams, useSearchParams } from "react-router";
import { useDress } from "../../api/dress";
import { useDesign } from "../../api/design";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { Underway } from "../../components/Underway";
import { CoversLeaf } from "./CoversLeaf";
import { HoldsLeaf } from "./HoldsLeaf";
import { LabelsLeaf } from "./LabelsLeaf";
import { LayersCard } from "./LayersCard";
import { MassLeaf } from "./MassLeaf";
import { ShrinksLeaf } from "./ShrinksLeaf";
import { LEAVES } from "../../components/leaves";

/** The harness as it will be in the hand: what goes over its wires, and what holds it. */
export function DressRoom() {
  const { leaf = "" } = useParams();
  const { design } = useDesign();
  const { data, error } = useDress();
  const [query, setQuery] = useSearchParams();
  const branches = design.document.route.branches;
  const asked = query.get("branch");
  const fullest = Object.entries(design.evaluation.route.branches).sort((x, y) => y[1].wires - x[1].wires)[0];
  const chosen = asked && branches[asked] ? asked : (fullest?.[0] ?? null);
  const choose = (branch: string) => setQuery({ branch }, { replace: true });
  return (
    <Room
      room="dress"
      title="Dress"
      beside={
        data && chosen && leaf === "" ? <LayersCard key={chosen} sheet={data.sheet} branch={chosen} /> : undefined
      }
    >
      <Leaves room="dress" leaves={LEAVES.dress} />
      {error ? (
        <p className="text-madder">{error.message}</p>
      ) : !data ? (
        <Underway text="Laying covers over the branches" share={0} />
      ) : leaf === "shrink" ? (
        <ShrinksLeaf sheet={data.sheet} />
      ) : leaf === "labels" ? (
        <LabelsLeaf sheet={data.sheet} />
      ) : leaf === "holds" ? (
        <HoldsLeaf sheet={data.sheet} />
      ) : leaf === "mass" ? (
        <MassLeaf sheet={data.sheet} />
      ) : (
        <CoversLeaf sheet={data.sheet} chosen={chosen} onChoose={choose} />
      )}
      <p className="mt-3 text-plain text-second">
        <a className="quiet" href={`/api/designs/${design.id}/tables/${leaf === "labels" ? "labels" : "dress"}`}>
          {leaf === "labels" ? "labels as CSV" : "dress list as CSV"}
        </a>{" "}
        &nbsp;{" "}
        <a className="quiet" href={`/api/designs/${design.id}/workbook`}>
          all tables as a workbook
        </a>
      </p>
    </Room>
  );
}
