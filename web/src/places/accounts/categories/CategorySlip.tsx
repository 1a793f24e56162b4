import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, type ChangeRequest, type Schemas } from "@/shared/api/client";
import { useEntryChoices, useRefresh } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { useToast } from "@/shared/kit/Toast";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";
import { useView } from "@/shared/view";
import { IconPicker } from "./IconPicker";

type Category = Schemas["Category"];

/** Create, rename, move to another group, merge or delete a category. */
export function CategorySlip({ id }: { id: string | null }) {
  const categories = useEntryChoices().data?.categories;
  if (!categories) return null;
  const category = categories.find((oneCategory) => oneCategory.id === id) ?? null;
  return <Editor key={id} category={category} categories={categories} />;
}

function Editor({ category, categories }: { category: Category | null; categories: Category[] }) {
  const initial = {
    name: category?.name ?? "",
    group: category?.group ?? "",
    kind: category?.kind ?? "expense",
    icon: category?.icon ?? "",
    retired: category?.retired ?? false,
  };
  const { form, values, newId, isDirty, isTouched } = useSlipForm(initial);
  const changes: ChangeRequest[] = [
    {
      op: category ? "update" : "add",
      kind: "category",
      id: category?.id ?? newId,
      value: { ...values, name: values.name.trim() },
    },
  ];
  const isReady = category ? isDirty : values.name.trim() !== "";
  const slip = useSlip(isReady ? changes : null, (field) => field !== "name" || isTouched("name"));
  const groups = [...new Set(categories.map((oneCategory) => oneCategory.group ?? "").filter(Boolean))];
  const others = categories.filter(
    (oneCategory) => oneCategory.id !== category?.id && oneCategory.kind === category?.kind,
  );
  return (
    <Slip
      title={category?.name ?? "New category"}
      saveName={category ? "Save" : "Add the category"}
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["name", "group", "kind", "icon"])}
      onSave={() => slip.save(changes, "Saved")}
      onDelete={
        category ? () => slip.save([{ op: "remove", kind: "category", id: category.id }], "Deleted") : undefined
      }
    >
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <Field label="Group" hint="Categories of one group stand together.">
        {(ids) => (
          <>
            <input {...ids} {...form.register("group")} list="category-groups" autoComplete="off" className="field" />
            <datalist id="category-groups">
              {groups.map((group) => (
                <option key={group} value={group} />
              ))}
            </datalist>
          </>
        )}
      </Field>
      {!category && (
        <ChooseOne
          label="Kind"
          value={values.kind}
          onChange={(kind) => form.setValue("kind", kind as Category["kind"] & string, { shouldDirty: true })}
          options={[
            { value: "expense", label: "Money out" },
            { value: "income", label: "Money in" },
          ]}
        />
      )}
      <IconPicker value={values.icon} onChange={(icon) => form.setValue("icon", icon, { shouldDirty: true })} />
      {category && (
        <label className="flex min-h-10 items-center gap-2.5">
          <input type="checkbox" {...form.register("retired")} className="size-4.5 accent-(--ink)" />
          Retired: kept for what was, not offered any more
        </label>
      )}
      {category && others.length > 0 && <Merge category={category} others={others} />}
    </Slip>
  );
}

/** Put everything of this category into another one. */
function Merge({ category, others }: { category: Category; others: Category[] }) {
  const [into, setInto] = useState("");
  const { closeSlip } = useView();
  const refresh = useRefresh();
  const toast = useToast();
  const merge = useMutation({
    mutationFn: () => api.post("/api/categories/merge", { body: { from: category.id, into } }),
    onSuccess: async (history) => {
      toast(history.done ?? "Merged");
      closeSlip();
      await refresh();
    },
  });
  return (
    <div className="flex items-end gap-2 border-t border-rule pt-3">
      <Field label="Merge into" className="flex-1" problem={merge.error?.message}>
        {(ids) => (
          <Select
            {...ids}
            value={into}
            onChange={setInto}
            options={others.map(({ id, name }) => ({ value: id, label: name }))}
          />
        )}
      </Field>
      <Button disabled={!into} onClick={() => merge.mutate()}>
        Merge
      </Button>
    </div>
  );
}
