const LOOPBACK = /^(localhost|127(\.\d{1,3}){3}|::1|\[::1\])$/;
/** Whether a host is this machine. */
export const isLoopback = (host: string): boolean => LOOPBACK.test(host);
