import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { useLocation } from "react-router";

import { whenSignedOut } from "../api/client";
import { queryClient } from "../api/queries";
import { Loading } from "../shell/states";
import { accountQuery, lastKnown } from "./account";
import { SignedOutSheet } from "./SignedOutSheet";
import { SignInPage } from "./SignInPage";

/** Pages that are for whoever is not signed in yet. */
const OPEN = new Set(["/join", "/pair", "/trust"]);

/**
 * Who is asking, before any page is shown. What this device knew last is good enough to begin with: the pages do not wait
 * for the server, which out there may be gone.
 */
export function Door({ children }: { children: ReactNode }) {
  const { data, isError } = useQuery(accountQuery);
  const { pathname } = useLocation();
  const who = data ?? lastKnown;
  const outside = who !== undefined && who.role === null;
  // Pages that somebody was at work on are kept when the server signs them out.
  const [atWork, setAtWork] = useState(false);
  if (data && data.role !== null && !atWork) setAtWork(true);
  useEffect(() => whenSignedOut(() => void queryClient.invalidateQueries({ queryKey: accountQuery.queryKey })), []);
  if (OPEN.has(pathname)) return <>{children}</>;
  if (outside && !atWork) return <SignInPage />;
  if (!who && !isError) return <Loading what="the page" />;
  return (
    <>
      {children}
      {outside ? <SignedOutSheet name={lastKnown?.name ?? ""} /> : null}
    </>
  );
}
