import { Secret } from "@/places/accounts/data/PasswordFields";
import { Field } from "@/shared/kit/fields/Field";
import { problemAt } from "./useConnections";

export interface Who {
  user: string;
  password: string;
}

interface Props {
  who: Who;
  error: Error | null;
  onChange: (who: Who) => void;
  isFirst?: boolean;
}

/** Who signs on at a bank. */
export function SignOnFields({ who, error, onChange, isFirst = false }: Props) {
  return (
    <>
      <Field label="User" problem={problemAt(error, "user")} className="w-60">
        {(ids) => (
          <input
            {...ids}
            // biome-ignore lint/a11y/noAutofocus: it was asked for just now
            autoFocus={isFirst}
            autoComplete="off"
            value={who.user}
            onChange={(event) => onChange({ ...who, user: event.target.value })}
            className="field"
          />
        )}
      </Field>
      <Secret
        label="Password at the bank"
        autoComplete="new-password"
        value={who.password}
        onChange={(password) => onChange({ ...who, password })}
        problem={problemAt(error, "password")}
      />
    </>
  );
}
