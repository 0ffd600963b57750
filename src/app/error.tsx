'use client';

export default function ErrorPage({ reset }: { error: Error; reset: () => void }) {
  return (
    <div className="max-w-[60ch] pt-10">
      <h1>This page could not be put together</h1>
      <p className="mt-2 text-[15px]">
        Nothing that was read is lost, and sittings go on without it. If the database was just
        started, wait a moment.
      </p>
      <button
        type="button"
        onClick={reset}
        className="mt-4 rounded-sm border border-oxide bg-oxide px-3 py-2 font-[650] text-oxide-ink"
      >
        Try again
      </button>
    </div>
  );
}
