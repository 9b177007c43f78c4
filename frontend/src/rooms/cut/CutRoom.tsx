import { useParams } from "react-router";
import { useCutPlan } from "../../api/cut";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { CutList } from "./CutList";
import { EndsLeaf } from "./EndsLeaf";
import { PlanCard } from "./PlanCard";
import { StripsLeaf } from "./StripsLeaf";
import { SpoolsLeaf } from "./SpoolsLeaf";
import { LEAVES } from "../../components/leaves";

/** Wire as lengths: what is cut, off which spool, and how each end is left. */
export function CutRoom() {
  const { leaf = "" } = useParams();
  const { data } = useCutPlan();
  return (
    <Room
      room="cut"
      title="Cut"
      {...(data?.sentence ? { sentence: data.sentence } : {})}
      beside={leaf === "spools" && data ? <PlanCard reply={data} /> : undefined}
    >
      <Leaves room="cut" leaves={LEAVES.cut} />
      {leaf === "spools" ? (
        <SpoolsLeaf />
      ) : leaf === "ends" ? (
        <EndsLeaf />
      ) : leaf === "strips" ? (
        <StripsLeaf />
      ) : (
        <CutList />
      )}
    </Room>
  );
}
