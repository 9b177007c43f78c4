import {
  circuitThreadingAnyOf0Values,
  coverChoiceKindAnyOf0Values,
  type pinoutBodyRuleValues,
} from "../../generated/schema";

/** What a field may be, as the contract lists it. */
export {
  branchMeasuredValues as MEASURED,
  cutChoicesFirstValues as CUT_ORDERS,
  cutEndStateValues as END_STATES,
  deviceFittedValues as FITTED,
  devicePin_dataValues as PIN_DATA_FROM,
  devicePinRoleValues as PIN_ROLES,
  internalPathKindValues as PATH_KINDS,
  loadKindValues as LOAD_KINDS,
  pinoutBodyRuleValues as GIVEN_OUT,
  loadServiceValues as SERVICES,
  pointEdgeValues as EDGES,
  pointKindValues as POINT_KINDS,
  sourceKindValues as SOURCE_KINDS,
  wireChoicesObjectiveValues as OBJECTIVES,
  wireGroupKindValues as GROUP_KINDS,
  wireGroupShield_ruleValues as SHIELD_RULES,
} from "../../generated/schema";

/** Ways of joining a circuit; null, which leaves it to the program, is not one of them. */
export const THREADINGS = circuitThreadingAnyOf0Values.filter((threading) => threading !== null);

/** What may go over a branch; null, which leaves it to the house rule, is not one of them. */
export const COVER_KINDS = coverChoiceKindAnyOf0Values.filter((kind) => kind !== null);

export type GivenOut = (typeof pinoutBodyRuleValues)[number];
