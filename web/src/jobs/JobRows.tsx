import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";

import { api, ask } from "../api/client";
import { jobsQuery, renew } from "../api/queries";
import type { Job } from "../api/types";
import { whenOf } from "../shell/moments";
import { notifyTrouble } from "../shell/notices";
import { Progress } from "../shell/Progress";

const NAMES: Record<Job["kind"], string> = {
  export: "Everything you own, as one file",
  import: "Taking an archive in",
  terrain: "Terrain",
  backup: "A backup",
  look: "Looking at the pictures",
  demo: "Pictures of the demo valley",
  bring: "Pictures from the server's folder",
};
const STATES: Record<Job["state"], string> = {
  waiting: "waits",
  running: "under way",
  done: "done",
  failed: "did not work",
  stopped: "stopped",
};

const isOver = (job: Job) => !["waiting", "running"].includes(job.state);

/** The jobs, asked for again while one goes on; what hangs on one is asked for anew when it ends. */
export function useJobs() {
  const jobs = useQuery({
    ...jobsQuery,
    refetchInterval: (query) => (query.state.data?.some((one) => !isOver(one)) ? 700 : false),
  });
  const going = useRef(new Set<string>());
  useEffect(() => {
    for (const job of jobs.data ?? []) {
      if (!isOver(job)) going.current.add(job.id);
      else if (going.current.delete(job.id) && job.kind !== "export") void renew(...HANGS_ON[job.kind]);
    }
  }, [jobs.data]);
  return jobs;
}

const HANGS_ON = {
  terrain: ["terrains"],
  backup: ["backups"],
  look: ["looked"],
  bring: ["pictures", "matches", "inbox"],
  demo: ["takes", "pictures", "looked", "learning"],
  import: ["places", "kit", "compositions", "terrains", "tracks", "takes", "pictures", "outings", "preferences"],
} as const;

/** One job: how far it is or how it ended, and what can be asked of it. */
export function JobRow({ job }: { job: Job }) {
  const act = useMutation({
    mutationFn: async (what: "stop" | "retry" | "forget") => {
      const params = { params: { path: { id: job.id } } };
      if (what === "forget") await ask(api.DELETE("/api/jobs/{id}", params));
      else if (what === "stop") await ask(api.POST("/api/jobs/{id}/stop", params));
      else await ask(api.POST("/api/jobs/{id}/retry", params));
    },
    onSettled: () => renew("jobs"),
    onError: notifyTrouble,
  });
  const named = job.kind === "terrain" || job.kind === "look";
  const name = named ? `${NAMES[job.kind]}: ${job.name}` : NAMES[job.kind];
  return (
    <Flex as="li" gap="3" py="8px" align="center" borderBottomWidth="1px" borderColor="line" wrap="wrap">
      <Box flex="1" minW="14rem">
        <Box fontWeight="600">{name}</Box>
        {isOver(job) ? (
          <Box color={job.state === "failed" ? "rust" : "muted"} fontSize="13px" wordBreak="break-word">
            {STATES[job.state]}, {whenOf(job.ended_at ?? job.created_at)}
            {job.text ? `. ${job.text}` : ""}
          </Box>
        ) : (
          <Progress words={job.doing || STATES[job.state]} share={job.whole > 0 ? job.done / job.whole : null} />
        )}
      </Box>
      {job.has_file ? (
        <Button asChild size="sm">
          <a href={`/api/jobs/${job.id}/file`} download>
            {job.kind === "bring" ? "Which, and why" : "Download"}
          </a>
        </Button>
      ) : null}
      {job.may_stop ? (
        <Button size="sm" variant="outline" onClick={() => act.mutate("stop")}>
          Stop
        </Button>
      ) : null}
      {job.may_retry ? (
        <Button size="sm" variant="outline" onClick={() => act.mutate("retry")}>
          Try again
        </Button>
      ) : null}
      {isOver(job) ? (
        <Button size="sm" variant="ghost" aria-label={`Forget: ${name}`} onClick={() => act.mutate("forget")}>
          Forget
        </Button>
      ) : null}
    </Flex>
  );
}
