import Snackbar from "@mui/material/Snackbar";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useState } from "react";
import { ApiError } from "../api/client";

const MessageContext = createContext<(message: string) => void>(() => undefined);

/** Say something at the foot of the window: what was done, or what went wrong. */
export function useMessage() {
  return useContext(MessageContext);
}

/** Say what an error was, with what to do about it. */
export function useTellError() {
  const tell = useMessage();
  return useCallback(
    (error: unknown) => {
      const problem = error instanceof ApiError ? error : null;
      tell(problem ? [problem.message, problem.detail].filter(Boolean).join(". ") : String(error));
    },
    [tell],
  );
}

export function Messages({ children }: { children: ReactNode }) {
  const [message, setMessage] = useState<string | null>(null);
  const tell = useCallback((text: string) => setMessage(text), []);
  // What was done is old news once the next thing is begun.
  useEffect(() => {
    if (message === null) return;
    const go = () => setMessage(null);
    window.addEventListener("pointerdown", go, { capture: true });
    window.addEventListener("keydown", go, { capture: true });
    return () => {
      window.removeEventListener("pointerdown", go, { capture: true });
      window.removeEventListener("keydown", go, { capture: true });
    };
  }, [message]);
  return (
    <MessageContext value={tell}>
      {children}
      <Snackbar
        open={message !== null}
        message={message}
        autoHideDuration={6000}
        onClose={(_, reason) => reason !== "clickaway" && setMessage(null)}
      />
    </MessageContext>
  );
}
