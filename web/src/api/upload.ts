import { ApiError, noticeSignedOut, problemOf } from "./client";
import type { Problem } from "./types";

/** Send a file as its bytes, telling how much of it is away; fetch cannot tell that. */
export function upload<T>(
  method: "PUT" | "POST",
  path: string,
  file: Blob,
  kind: string,
  onSent: (share: number) => void,
): Promise<T> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open(method, path);
    request.setRequestHeader("Content-Type", kind);
    request.upload.onprogress = (event) => event.lengthComputable && onSent(event.loaded / event.total);
    request.onerror = () =>
      reject(
        new ApiError({
          ...problemOf(null),
          title: "The server does not answer",
          detail: "The file was not taken in; send it again when the server is back.",
        }),
      );
    request.onload = () => {
      noticeSignedOut(request.status);
      let read: unknown;
      try {
        read = JSON.parse(request.responseText);
      } catch {
        read = null;
      }
      if (request.status >= 200 && request.status < 300) resolve(read as T);
      else
        reject(
          new ApiError({
            type: "about:blank",
            title: request.statusText,
            status: request.status,
            detail: "",
            instance: "",
            errors: [],
            ...(read as Partial<Problem> | null),
          }),
        );
    };
    request.send(file);
  });
}
