import { AccountSlip } from "@/places/accounts/account/AccountSlip";
import { HouseholdSlip } from "@/places/accounts/account/HouseholdSlip";
import { CategorySlip } from "@/places/accounts/categories/CategorySlip";
import { EntrySlip } from "@/places/accounts/entry/EntrySlip";
import { RateSlip } from "@/places/accounts/rates/RateSlip";
import { LoanSlip } from "@/places/debts/slip/LoanSlip";
import { AllowanceSlip } from "@/places/flows/allowances/AllowanceSlip";
import { LimitsSlip } from "@/places/flows/allowances/LimitsSlip";
import { AsideSlip } from "@/places/flows/aside/AsideSlip";
import { OnceSlip } from "@/places/flows/OnceSlip";
import { FlowSlip } from "@/places/flows/slip/FlowSlip";
import { GoalSlip } from "@/places/review/goals/GoalSlip";
import { SharesSlip } from "@/places/review/goals/SharesSlip";
import type { SlipAddress } from "@/shared/view";

/** One slip, of whatever kind. */
export function AnySlip({ slip }: { slip: SlipAddress }) {
  const key = `${slip.kind}:${slip.id}:${slip.start}`;
  switch (slip.kind) {
    case "flow":
      return <FlowSlip key={key} id={slip.id} start={slip.start} />;
    case "account":
      return <AccountSlip key={key} id={slip.id} start={slip.start} />;
    case "allowance":
      return <AllowanceSlip key={key} id={slip.id} />;
    case "limits":
      return <LimitsSlip key={key} />;
    case "entry":
      return <EntrySlip key={key} id={slip.id} start={slip.start} />;
    case "category":
      return <CategorySlip key={key} id={slip.id} />;
    case "once":
      return <OnceSlip key={key} id={slip.id} start={slip.start} />;
    case "loan":
      return <LoanSlip key={key} id={slip.id} start={slip.start} />;
    case "aside":
      return <AsideSlip key={key} start={slip.start} />;
    case "goal":
      return <GoalSlip key={key} id={slip.id} />;
    case "shares":
      return <SharesSlip key={key} />;
    case "rate":
      return <RateSlip key={key} id={slip.id} start={slip.start} />;
    case "household":
      return <HouseholdSlip key={key} />;
  }
}
