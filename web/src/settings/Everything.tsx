import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";

import { api, ask } from "../api/client";
import { renew } from "../api/queries";
import { upload } from "../api/upload";
import { JobRow, useJobs } from "../jobs/JobRows";
import { FileButton } from "../shell/FileButton";
import { notifyTrouble } from "../shell/notices";
import { Progress } from "../shell/Progress";
import { Group } from "./Group";

const SHOWN = 3;

/** Everything one owns: out as one file, and such a file in. */
export function Everything({ maySend }: { maySend: boolean }) {
  const jobs = useJobs();
  const [sent, setSent] = useState<number | null>(null);
  const out = useMutation({
    mutationFn: () => ask(api.POST("/api/archives/export")),
    onSuccess: () => renew("jobs"),
    onError: notifyTrouble,
  });
  const take = useMutation({
    mutationFn: (file: File) => upload("POST", "/api/archives/import", file, "application/zip", setSent),
    onSettled: () => {
      setSent(null);
      void renew("jobs");
    },
    onError: notifyTrouble,
  });
  const mine = (jobs.data ?? []).filter((job) => job.kind === "export" || job.kind === "import").slice(0, SHOWN);
  return (
    <Group
      title="Everything you own"
      about="As one file: places, compositions, kit, logbook, photographs and terrain. Taken in anywhere, beside what is there; nothing is doubled or written over."
    >
      {maySend ? (
        <Flex gap="3" wrap="wrap">
          <Button loading={out.isPending} onClick={() => out.mutate()}>
            Write it out
          </Button>
          <FileButton
            label="An archive to take in"
            accept=".zip,application/zip"
            busy={take.isPending}
            onFile={(file) => take.mutate(file)}
          >
            Take one in
          </FileButton>
        </Flex>
      ) : null}
      {sent === null ? null : (
        <Box w="100%">
          <Progress words="sending" share={sent} />
        </Box>
      )}
      {mine.length > 0 ? (
        <Box as="ul" w="100%" listStyleType="none">
          {mine.map((job) => (
            <JobRow key={job.id} job={job} />
          ))}
        </Box>
      ) : null}
      <Link to="/jobs" style={{ textDecoration: "underline" }}>
        All that goes on in the background
      </Link>
    </Group>
  );
}
