import Snackbar from "@mui/material/Snackbar";
import { createContext, type ReactNode, useCallback, useContext, useState } from "react";
import { Problem } from "../api/client";

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
      const problem = error instanceof Problem ? error : null;
      tell(problem ? [problem.message, problem.detail].filter(Boolean).join(". ") : String(error));
    },
    [tell],
  );
}

export function Messages({ children }: { children: ReactNode }) {
  const [message, setMessage] = useState<string | null>(null);
  const tell = useCallback((text: string) => setMessage(text), []);
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
