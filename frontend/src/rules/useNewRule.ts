import { useNewDraft } from "../parts/newDraft";
import type { RuleTree } from "./ruleTree";

/** Open a new rule in the editor. */
export const useNewRule = () => useNewDraft<RuleTree>("rule");
