import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { useState } from "react";

import { api, ask } from "../api/client";
import { backupsQuery, renew } from "../api/queries";
import type { BackupOut } from "../api/types";
import { JobRow, useJobs } from "../jobs/JobRows";
import { whenOf } from "../shell/moments";
import { notifyTrouble } from "../shell/notices";
import { Sheet } from "../shell/Sheet";
import { Group } from "./Group";

const SHOWN = 6;
const LOOK_AGAIN_MS = 2000;

/** Whether to put a backup in the place of everything: it cannot be undone by a key. */
function BringBackSheet({ backup, onClose }: { backup: BackupOut; onClose: () => void }) {
  const bring = useMutation({
    mutationFn: () => ask(api.POST("/api/backups/{name}/bring-back", { params: { path: { name: backup.name } } })),
    onSuccess: async () => {
      await renew("backups");
      onClose();
    },
    onError: notifyTrouble,
  });
  return (
    <Sheet
      title={`Bring back ${whenOf(backup.made_at)}`}
      open
      onClose={onClose}
      footer={
        <Flex gap="2">
          <Button variant="ghost" onClick={onClose}>
            Leave everything as it is
          </Button>
          <Button loading={bring.isPending} onClick={() => bring.mutate()}>
            Bring it back
          </Button>
        </Flex>
      }
    >
      Everything here, everybody’s, becomes what it was then. What is here now is backed up first. Nobody can work for a minute or
      so; then people sign in again.
    </Sheet>
  );
}
const sizeOf = (bytes: number) => `${(bytes / 1e6).toFixed(1)} MB`;

/** Backups of the whole installation, for whoever runs it. */
export function Backups() {
  const backups = useQuery({
    ...backupsQuery,
    // While one is brought back nothing answers for a while: asked again until it does.
    refetchInterval: (query) => (query.state.data?.bringing_back ? LOOK_AGAIN_MS : false),
  });
  const [chosen, setChosen] = useState<BackupOut | null>(null);
  const jobs = useJobs();
  const make = useMutation({
    mutationFn: () => ask(api.POST("/api/backups")),
    onSuccess: () => renew("jobs"),
    onError: notifyTrouble,
  });
  if (!backups.data?.offered) return null;
  const { bringing_back: bringing, brought_back: brought, may_bring_back: may } = backups.data;
  const going = jobs.data?.find((job) => job.kind === "backup" && job.state !== "done");
  const rest = backups.data.backups.length - SHOWN;
  return (
    <Group
      title="Backups"
      about="Everybody’s, with every file. Of those made each day the newest of 7 days, 4 weeks and 12 months are kept; those made by hand stay. Keep a copy on another disk, too."
    >
      <Button loading={make.isPending} onClick={() => make.mutate()}>
        Back up now
      </Button>
      {going ? (
        <Box as="ul" w="100%" listStyleType="none">
          <JobRow job={going} />
        </Box>
      ) : null}
      {bringing ? <Box role="status">A backup is brought back; this page goes on by itself.</Box> : null}
      {brought && !bringing ? (
        <Box role="status" color="muted">
          {whenOf(brought.at)}, {brought.name}: {brought.said}
        </Box>
      ) : null}
      {backups.data.backups.length === 0 ? <Box color="muted">None yet.</Box> : null}
      <Box as="ul" w="100%" listStyleType="none">
        {backups.data.backups.slice(0, SHOWN).map((one) => (
          <Flex as="li" key={one.name} align="center" gap="3" py="6px" borderBottomWidth="1px" borderColor="line">
            <Box flex="1" wordBreak="break-all">
              {whenOf(one.made_at)}
              <Box color="muted" fontSize="12.5px">
                {one.name}, {sizeOf(one.size_bytes)}
              </Box>
            </Box>
            {may ? (
              <Button
                size="sm"
                variant="ghost"
                disabled={bringing}
                onClick={() => setChosen(one)}
                aria-label={`Bring back ${one.name}`}
              >
                Bring back
              </Button>
            ) : null}
            <Button asChild size="sm" variant="outline">
              <a href={`/api/backups/${one.name}`} download aria-label={`Download ${one.name}`}>
                Download
              </a>
            </Button>
          </Flex>
        ))}
      </Box>
      {rest > 0 ? <Box color="muted">and {rest} older ones in the folder of backups</Box> : null}
      {may ? null : (
        <Box color="muted" fontSize="13px">
          One is brought back into a new folder, where the server runs: ./ridge restore FILE --data FOLDER
        </Box>
      )}
      {chosen ? <BringBackSheet backup={chosen} onClose={() => setChosen(null)} /> : null}
    </Group>
  );
}
