import type { ReactNode } from 'react';
import { Link, NavLink } from 'react-router';
import { JobDrawer } from './JobDrawer';
import type { TargetCard } from '@owl-loom/api/targets';
import { Owl } from '../ui/Logo';
import { RoomLine } from './DiskSpaceBanner';

/** The bar on top of every screen: where one is, where one can go, and what is under way. */
export function Frame({
  target,
  title,
  menu,
  middle,
  right,
  here,
}: {
  target?: TargetCard;
  title?: ReactNode;
  menu?: ReactNode;
  middle?: ReactNode;
  right?: ReactNode;
  here?: 'loom';
}) {
  const recipe = target?.recipes[0];
  const tab = ({ isActive }: { isActive: boolean }) =>
    `rounded-md px-2 py-1 text-[13px] ${isActive ? 'bg-shelf text-text' : 'text-hush hover:text-text'}`;
  return (
    <>
      <header className="flex h-11 shrink-0 items-center gap-2 border-b border-edge bg-board px-3">
        <Link to="/" aria-label="All targets" title="All targets" className="rounded-md p-0.5 hover:bg-shelf">
          <Owl size={26} />
        </Link>
        {target ? (
          <>
            <span className="max-w-40 min-w-16 truncate font-semibold" title={target.name}>
              {target.name}
            </span>
            <nav className="flex gap-0.5" aria-label="Screens of this target">
              <NavLink className={tab} to={`/targets/${target.id}/stacks`}>
                Stacks
              </NavLink>
              {recipe && (
                <NavLink
                  className={here === 'loom' ? () => tab({ isActive: true }) : tab}
                  to={`/targets/${target.id}/loom/${recipe.id}`}
                >
                  Loom
                </NavLink>
              )}
              {target.stacks.length > 0 && (
                <NavLink className={tab} to={`/targets/${target.id}/swatches`}>
                  Swatches
                </NavLink>
              )}
              <NavLink className={tab} to={`/targets/${target.id}/exports`}>
                Exports
              </NavLink>
            </nav>
          </>
        ) : (
          <>
            <span className="font-semibold">Owl Loom</span>
            <nav className="flex gap-0.5" aria-label="Screens of this Owl Loom">
              <NavLink className={tab} to="/" end>
                Shelf
              </NavLink>
              <NavLink className={tab} to="/trash">
                Trash
              </NavLink>
              <NavLink className={tab} to="/health">
                Health
              </NavLink>
            </nav>
          </>
        )}
        {title}
        {menu}
        <div className="flex min-w-0 grow justify-center">{middle}</div>
        <div className="flex shrink-0 items-center gap-2">
          {right}
          <JobDrawer />
        </div>
      </header>
      <RoomLine />
    </>
  );
}
