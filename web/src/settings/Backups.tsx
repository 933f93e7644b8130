import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";

import { api, ask } from "../api/client";
import { backupsQuery, renew } from "../api/queries";
import { JobRow, useJobs } from "../jobs/JobRows";
import { whenOf } from "../shell/moments";
import { notifyTrouble } from "../shell/notices";
import { Group } from "./Group";

const SHOWN = 6;
const sizeOf = (bytes: number) => `${(bytes / 1e6).toFixed(1)} MB`;

/** Backups of the whole installation, for whoever runs it. */
export function Backups() {
  const backups = useQuery(backupsQuery);
  const jobs = useJobs();
  const make = useMutation({
    mutationFn: () => ask(api.POST("/api/backups")),
    onSuccess: () => renew("jobs"),
    onError: notifyTrouble,
  });
  if (!backups.data?.offered) return null;
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
            <Button asChild size="sm" variant="outline">
              <a href={`/api/backups/${one.name}`} download aria-label={`Download ${one.name}`}>
                Download
              </a>
            </Button>
          </Flex>
        ))}
      </Box>
      {rest > 0 ? <Box color="muted">and {rest} older ones in the folder of backups</Box> : null}
      <Box color="muted" fontSize="13px">
        One is brought back into a new folder, where the server runs: ./ridge restore FILE --data FOLDER
      </Box>
    </Group>
  );
}
