import { Box } from "@chakra-ui/react";
import { Link } from "react-router";

import { Empty, Loading, Trouble } from "../shell/states";
import { Page } from "../shell/TopBar";
import { JobRow, useJobs } from "./JobRows";

/** What goes on in the background, and what came of it. */
export default function JobsPage() {
  const jobs = useJobs();
  return (
    <Page title="In the background" intro="What takes a while goes on here, also with this page closed.">
      {jobs.isError && !jobs.data ? <Trouble error={jobs.error} again={() => void jobs.refetch()} /> : null}
      {!jobs.data && !jobs.isError ? <Loading what="what goes on" /> : null}
      {jobs.data?.length === 0 ? (
        <Empty
          title="Nothing goes on"
          action={
            <Link to="/settings" style={{ textDecoration: "underline" }}>
              To the settings
            </Link>
          }
        >
          Terrain that you bring in, and archives that you write or take in under Settings, show here how far they are.
        </Empty>
      ) : null}
      <Box as="ul" listStyleType="none" maxW="56rem">
        {jobs.data?.map((job) => (
          <JobRow key={job.id} job={job} />
        ))}
      </Box>
    </Page>
  );
}
