import type { ButtonHTMLAttributes } from "react";

type Look = "main" | "plain" | "link" | "danger";

const LOOKS: Record<Look, string> = {
  main: "bg-copper text-on-copper font-semibold px-4 border border-copper hover:brightness-110",
  plain: "border border-rule-strong px-4 hover:bg-hover",
  link: "px-2 text-copper hover:bg-hover",
  danger: "px-3 text-rust underline underline-offset-4 decoration-1 hover:bg-rust-wash",
};

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  look?: Look;
}

export function Button({ look = "plain", className = "", type = "button", ...rest }: Props) {
  return (
    <button
      type={type}
      className={`inline-flex min-h-10 items-center justify-center gap-2 rounded-sm disabled:opacity-45 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
