import { Link, useParams } from "react-router";
import { useDesign } from "../../api/design";
import { useWork } from "../../api/work";
import { Leaves } from "../../components/Leaves";
import { Room } from "../../components/Room";
import { BoardLeaf } from "./BoardLeaf";
import { FittingLeaf, PowerLeaf } from "./FittingLeaf";
import { HappenedLeaf } from "./HappenedLeaf";
import { OrderLeaf } from "./OrderLeaf";
import { PracticeLeaf } from "./PracticeLeaf";
import { TimeLeaf } from "./TimeLeaf";
import { LEAVES } from "../../components/leaves";

/** The work in order: what is done when, what it waits for, how far it is. */
export function BuildRoom() {
  const { leaf = "" } = useParams();
  const { id } = useDesign();
  const { data } = useWork();
  return (
    <Room room="build" title="Build">
      <div className="flex flex-wrap items-start justify-between gap-x-6">
        <Leaves room="build" leaves={LEAVES.build} />
        {data && data.cards.length > 0 && (
          <Link className="press" to={`/d/${id}/build/cards`}>
            To the bench
          </Link>
        )}
      </div>
      {!data ? (
        <p className="text-second">Putting the steps in order ...</p>
      ) : leaf === "board" ? (
        <BoardLeaf />
      ) : leaf === "happened" ? (
        <HappenedLeaf work={data} />
      ) : leaf === "fitting" ? (
        <FittingLeaf />
      ) : leaf === "practice" ? (
        <PracticeLeaf />
      ) : leaf === "power" ? (
        <PowerLeaf />
      ) : leaf === "time" ? (
        <TimeLeaf work={data} />
      ) : (
        <OrderLeaf work={data} />
      )}
    </Room>
  );
}
