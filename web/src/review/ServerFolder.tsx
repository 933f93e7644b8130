import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";

import { api, ask } from "../api/client";
import { inboxQuery, renew } from "../api/queries";
import { JobRow, useJobs } from "../jobs/JobRows";
import { notifyTrouble } from "../shell/notices";

/** The folder on the server's disk: what is laid into it is brought in from here, however much it is. */
export function ServerFolder() {
  const inbox = useQuery(inboxQuery);
  const jobs = useJobs();
  const bring = useMutation({
    mutationFn: async () => await ask(api.POST("/api/pictures/inbox")),
    onSettled: () => renew("jobs"),
    onError: notifyTrouble,
  });
  const job = jobs.data?.find((one) => one.kind === "bring");
  const doing = job?.doing;
  useEffect(() => {
    // The list is whole before the copies are made.
    if (doing) void renew("pictures", "matches");
  }, [doing]);
  if (!inbox.data?.offered) return null;
  const { folder, files } = inbox.data;
  const going = job !== undefined && ["waiting", "running"].includes(job.state);
  return (
    <Box mt="3" data-testid="server-folder">
      <Flex gap="4" align="center" wrap="wrap" fontSize="14px">
        <Box flex="1" minW="14rem" wordBreak="break-word">
          {files > 0
            ? `On the server's disk: ${files} ${files === 1 ? "file" : "files"} in ${folder}.`
            : `A whole card at once: copy it into ${folder} on the server's disk, then bring it in from here.`}
        </Box>
        {files > 0 ? (
          <Button size="sm" variant="outline" disabled={going} loading={bring.isPending} onClick={() => bring.mutate()}>
            Bring in what lies there
          </Button>
        ) : (
          <Button size="sm" variant="ghost" onClick={() => void inbox.refetch()}>
            Look again
          </Button>
        )}
      </Flex>
      {job ? (
        <Box as="ul" listStyleType="none">
          <JobRow job={job} />
        </Box>
      ) : null}
    </Box>
  );
}
