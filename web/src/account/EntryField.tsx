import { Field, Input } from "@chakra-ui/react";

/** A field of a form that is sent as a whole, known to password managers by what it is for. */
export function EntryField({
  label,
  name,
  error,
  hint,
  type = "text",
  complete,
  focus,
}: {
  label: string;
  name: string;
  error?: string | undefined;
  hint?: string;
  type?: "text" | "password";
  complete: string;
  focus?: boolean;
}) {
  return (
    <Field.Root invalid={Boolean(error)} gap="1" required>
      <Field.Label fontSize="13px" color="muted" fontWeight="500">
        {label}
      </Field.Label>
      <Input
        name={name}
        type={type}
        autoComplete={complete}
        autoFocus={focus ?? false}
        autoCapitalize="off"
        spellCheck={false}
        maxLength={type === "password" ? 200 : 80}
        bg="raised"
        borderColor="line"
        borderRadius="2px"
        h="40px"
        px="10px"
        color="ink"
      />
      {error ? <Field.ErrorText color="rust">{error}</Field.ErrorText> : hint ? <Field.HelperText>{hint}</Field.HelperText> : null}
    </Field.Root>
  );
}

/** What a form holds under a name. */
export const entered = (form: HTMLFormElement, name: string) => {
  const value = new FormData(form).get(name);
  return typeof value === "string" ? value : "";
};
