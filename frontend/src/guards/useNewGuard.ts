import { useNewDraft } from "../parts/newDraft";
import type { GuardTree } from "./guardTree";

/** Open a new guard in the editor. */
export const useNewGuard = () => useNewDraft<GuardTree>("guard");
