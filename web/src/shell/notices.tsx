import { Button, createToaster, Stack, Toast, Toaster } from "@chakra-ui/react";

import { problemOf, wordsOf } from "../api/client";

const toaster = createToaster({ placement: "bottom-start", pauseOnPageIdle: true, max: 3 });

interface Notice {
  title: string;
  detail?: string;
  kind?: "done" | "trouble";
  undo?: () => void;
  undoLabel?: string;
}

/** Tell the person something that happened, with a way back where there is one. */
export function notify({ title, detail, kind = "done", undo, undoLabel = "Undo" }: Notice) {
  toaster.create({
    title,
    ...(detail ? { description: detail } : {}),
    type: kind === "trouble" ? "error" : "info",
    duration: undo ? 12_000 : 6_000,
    ...(undo ? { action: { label: undoLabel, onClick: undo } } : {}),
  });
}

/** Tell what went wrong; to hang on a promise. That somebody is signed out has a sheet of its own. */
export function notifyTrouble(error: unknown) {
  const problem = problemOf(error);
  if (problem.status === 401) return;
  notify({ title: problem.title, detail: wordsOf(problem), kind: "trouble" });
}

export function Notices() {
  return (
    <Toaster toaster={toaster} insetInline={{ mdDown: "4" }}>
      {(toast) => (
        <Toast.Root
          bg="raised"
          color="ink"
          borderWidth="1px"
          borderColor="line"
          borderLeftWidth="4px"
          borderLeftColor={toast.type === "error" ? "rust" : "slate"}
          borderRadius="3px"
          boxShadow="none"
          width={{ md: "sm" }}
        >
          <Stack gap="1" flex="1">
            <Toast.Title fontWeight="700">{toast.title}</Toast.Title>
            {toast.description ? <Toast.Description color="muted">{toast.description}</Toast.Description> : null}
          </Stack>
          {toast.action ? (
            <Toast.ActionTrigger asChild>
              <Button variant="outline">{toast.action.label}</Button>
            </Toast.ActionTrigger>
          ) : null}
        </Toast.Root>
      )}
    </Toaster>
  );
}
