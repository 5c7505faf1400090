//! Shared pages: their public addresses, who came in, the codes that are mailed, and when each was last looked at.

use crate::{Store, Stored, json::int, schema};
use diesel::{prelude::*, upsert::excluded};
use diesel_async::{AsyncConnection, AsyncPgConnection, RunQueryDsl};
use jiff::Timestamp;
use jiff_diesel::ToDiesel;
use westerfall_core::id::{GuestId, PageId, TrackerId};

/// Tries at a code before it is worth nothing.
const TRIES: i32 = 5;

/// A page, and the tracker that it is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct PageAt {
    pub tracker: TrackerId,
    pub page: PageId,
}

/// Somebody who was let in, to be kept.
#[derive(Clone, Debug)]
pub struct NewPageSession<'a> {
    pub token_hash: &'a [u8],
    pub guest: Option<GuestId>,
    /// The hash of what let them in.
    pub let_in_by: &'a [u8],
    pub expires: Timestamp,
}

/// Somebody who was let in.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct PageSession {
    pub guest: Option<GuestId>,
    pub let_in_by: Vec<u8>,
}

/// How often somebody came, and when last; nobody: those of whom nothing is known.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct PageVisits {
    pub guest: Option<GuestId>,
    pub visits: u64,
    pub last: Timestamp,
}

fn guest_id(number: i32) -> Option<GuestId> {
    GuestId::new(number.try_into().ok()?)
}

impl Store {
    /// The page at a public address.
    pub async fn page_at(&self, link: &str) -> Stored<Option<PageAt>> {
        use schema::page_link as l;
        let found = l::table.find(link).select((l::tracker_id, l::page_id));
        let row: Option<(i32, i32)> = found.first(&mut self.connection().await?).await.optional()?;
        Ok(row.and_then(|(tracker, page)| {
            Some(PageAt { tracker: TrackerId::new(tracker.try_into().ok()?)?, page: PageId::new(page.try_into().ok()?)? })
        }))
    }

    /// Lets somebody in.
    pub async fn open_page_session(&self, at: PageAt, session: &NewPageSession<'_>, now: Timestamp) -> Stored<()> {
        use schema::page_session as s;
        let mut connection = self.connection().await?;
        diesel::delete(s::table.filter(s::expires_at.le(now.to_diesel()))).execute(&mut connection).await?;
        diesel::insert_into(s::table)
            .values((
                s::token_hash.eq(session.token_hash),
                s::tracker_id.eq(int(at.tracker.get())),
                s::page_id.eq(int(at.page.get())),
                s::guest_id.eq(session.guest.map(|guest| int(guest.get()))),
                s::let_in_by.eq(session.let_in_by),
                s::expires_at.eq(session.expires.to_diesel()),
            ))
            .execute(&mut connection)
            .await?;
        Ok(())
    }

    /// Whoever was let in with this token, at this page alone.
    pub async fn page_session(&self, at: PageAt, token_hash: &[u8], now: Timestamp) -> Stored<Option<PageSession>> {
        use schema::page_session as s;
        let good = s::table.filter(
            s::token_hash
                .eq(token_hash)
                .and(s::tracker_id.eq(int(at.tracker.get())))
                .and(s::page_id.eq(int(at.page.get())))
                .and(s::expires_at.gt(now.to_diesel())),
        );
        let row: Option<(Option<i32>, Vec<u8>)> =
            good.select((s::guest_id, s::let_in_by)).first(&mut self.connection().await?).await.optional()?;
        Ok(row.map(|(guest, let_in_by)| PageSession { guest: guest.and_then(guest_id), let_in_by }))
    }

    /// Whoever was let in with this token leaves.
    pub async fn close_page_session(&self, token_hash: &[u8]) -> Stored<()> {
        use schema::page_session as s;
        diesel::delete(s::table.find(token_hash)).execute(&mut self.connection().await?).await?;
        Ok(())
    }

    /// Keeps a code that is mailed to somebody; the one before is worth nothing from here on.
    pub async fn give_page_code(&self, at: PageAt, guest: GuestId, code_hash: &[u8], expires: Timestamp) -> Stored<()> {
        use schema::page_code as c;
        diesel::insert_into(c::table)
            .values((
                c::tracker_id.eq(int(at.tracker.get())),
                c::page_id.eq(int(at.page.get())),
                c::guest_id.eq(int(guest.get())),
                c::code_hash.eq(code_hash),
                c::expires_at.eq(expires.to_diesel()),
                c::tries.eq(0),
            ))
            .on_conflict((c::tracker_id, c::page_id, c::guest_id))
            .do_update()
            .set((c::code_hash.eq(excluded(c::code_hash)), c::expires_at.eq(excluded(c::expires_at)), c::tries.eq(0)))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Uses a code: of all who try, one succeeds, once; after a few wrong ones none does. It takes as long for somebody whom the page
    /// does not name: the same is asked, and nothing of it waits for the disk.
    pub async fn use_page_code(&self, at: PageAt, guest: Option<GuestId>, code_hash: &[u8], now: Timestamp) -> Stored<bool> {
        use schema::page_code as c;
        let guest = guest.map_or(0, |guest| int(guest.get()));
        let of = c::tracker_id.eq(int(at.tracker.get())).and(c::page_id.eq(int(at.page.get()))).and(c::guest_id.eq(guest));
        // Each try is counted before it is looked at, so that many at once are no more tries than one after the other.
        let good = c::expires_at.gt(now.to_diesel()).and(c::tries.lt(TRIES));
        let counting = async |c: &mut AsyncPgConnection| {
            crate::without_waiting(c).await?;
            diesel::update(c::table.filter(of.and(good))).set(c::tries.eq(c::tries + 1)).execute(c).await
        };
        let mut connection = self.connection().await?;
        let counted = (*connection).transaction(counting).await?;
        let used = diesel::delete(c::table.filter(of.and(c::code_hash.eq(code_hash)))).execute(&mut connection).await?;
        Ok(counted > 0 && used == 1)
    }

    /// Notes that somebody came.
    pub async fn note_page_visit(&self, at: PageAt, guest: Option<GuestId>, now: Timestamp) -> Stored<()> {
        use schema::page_visit as v;
        diesel::insert_into(v::table)
            .values((
                v::tracker_id.eq(int(at.tracker.get())),
                v::page_id.eq(int(at.page.get())),
                v::guest_id.eq(guest.map_or(0, |guest| int(guest.get()))),
                v::visits.eq(1_i64),
                v::last_at.eq(now.to_diesel()),
            ))
            .on_conflict((v::tracker_id, v::page_id, v::guest_id))
            .do_update()
            .set((v::visits.eq(v::visits + 1), v::last_at.eq(excluded(v::last_at))))
            .execute(&mut self.connection().await?)
            .await?;
        Ok(())
    }

    /// Who came to a tracker's pages, how often, and when last.
    pub async fn page_visits(&self, tracker: TrackerId) -> Stored<Vec<(PageId, PageVisits)>> {
        use schema::page_visit as v;
        let rows: Vec<(i32, i32, i64, jiff_diesel::Timestamp)> = v::table
            .filter(v::tracker_id.eq(int(tracker.get())))
            .select((v::page_id, v::guest_id, v::visits, v::last_at))
            .order((v::page_id, v::guest_id))
            .load(&mut self.connection().await?)
            .await?;
        let visits = |(page, guest, visits, last): (i32, i32, i64, jiff_diesel::Timestamp)| {
            let page = PageId::new(page.try_into().ok()?)?;
            Some((page, PageVisits { guest: guest_id(guest), visits: visits.unsigned_abs(), last: last.into() }))
        };
        Ok(rows.into_iter().filter_map(visits).collect())
    }
}
