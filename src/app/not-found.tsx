import Link from 'next/link';

export default function NotFound() {
  return (
    <div className="m-auto text-center">
      <p className="font-head text-xl">There is no such page.</p>
      <Link className="text-verdigris underline" href="/recordings">
        To the recordings
      </Link>
    </div>
  );
}
