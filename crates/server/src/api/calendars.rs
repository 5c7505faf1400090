//! Live addresses of calendars: one for each person and view, at which other calendars look by themselves.

use super::{exports::Site, places::OfView};
use crate::{
    app::App,
    here::{Caller, Here},
    problem::{Json, Path, Problem},
    refusal::Refusal,
    secrets::{hash, random_hex},
};
use axum::{
    body::Body,
    extract::State,
    http::{HeaderMap, HeaderValue, StatusCode, header},
    response::{IntoResponse, Response},
};
use jiff::Timestamp;
use serde::Serialize;
use sha2::{Digest, Sha256};
use utoipa::ToSchema;
use westerfall_core::{
    access::Asker,
    fault::Fault,
    id::{TableId, TrackerId, ViewId},
    value::moment_text,
    view::Shape,
};
use westerfall_store::CalendarAddress;

/// How often another calendar looks, as it is asked to, in hours.
const AGAIN: u32 = 1;
/// What an address ends in, so that other programs know it for a calendar.
const ENDING: &str = ".ics";

/// An address of mine.
#[derive(Serialize, ToSchema)]
pub(super) struct CalendarLine {
    number: i64,
    #[schema(value_type = u32)]
    tracker: TrackerId,
    /// Empty where it is not open to me any more.
    tracker_name: String,
    #[schema(value_type = u32)]
    view: ViewId,
    /// Of which table it is; none where it is gone, or not open to me any more: the address leads nowhere then.
    #[schema(value_type = Option<u32>)]
    table: Option<TableId>,
    /// Empty where there is none.
    view_name: String,
    made: String,
    /// When another calendar last looked; empty: none has.
    looked: String,
}

/// A new address. It is told this once.
#[derive(Serialize, ToSchema)]
pub(super) struct CalendarMade {
    address: String,
}

/// The live addresses that I have.
#[utoipa::path(get, path = "/api/calendars", responses((status = 200, body = Vec<CalendarLine>)))]
pub(super) async fn list(State(app): State<App>, caller: Caller) -> Result<Json<Vec<CalendarLine>>, Problem> {
    // Whoever stands in for somebody sees their own: addresses are nobody else's.
    let person = caller.person()?;
    let clock = app.team.clock_for(person);
    let mut lines = Vec::new();
    for address in app.store.calendar_addresses(person).await? {
        let look = match app.tracker(address.tracker).await {
            Ok(live) => live.look(Asker::Person(person)).ok(),
            Err(_) => None,
        };
        let (tracker_name, table, view_name) = look.map_or_else(Default::default, |look| {
            let view = look.dataset.view(address.view).filter(|view| look.lens().knows(view));
            let name = view.map(|view| view.name.clone()).unwrap_or_default();
            (look.dataset.tracker.name.clone(), view.map(|view| view.table), name)
        });
        let CalendarAddress { number, tracker, view, made, looked } = address;
        let looked = looked.map(|at| moment_text(at, &clock)).unwrap_or_default();
        lines.push(CalendarLine { number, tracker, tracker_name, view, table, view_name, made: moment_text(made, &clock), looked });
    }
    Ok(Json(lines))
}

/// Makes a live address for a calendar of mine; the one that I had for it leads nowhere from here on.
#[utoipa::path(post, path = "/api/trackers/{tracker}/views/{view}/calendar", params(OfView), responses((status = 200, body = CalendarMade)))]
pub(super) async fn make(here: Here, Path(OfView { view, .. }): Path<OfView>) -> Result<Json<CalendarMade>, Problem> {
    here.caller.actor()?;
    let person = here.caller.person()?;
    {
        let look = here.look()?;
        let known = look.dataset.view(view).filter(|view| look.lens().knows(view)).ok_or_else(|| Fault::not_found("view"))?;
        if !matches!(known.query.shape, Shape::Calendar(_)) {
            return Err(Refusal::NoCalendar.into());
        }
    }
    let token = random_hex(24);
    here.app.store.give_calendar_address(person, here.tracker, view, &hash(&token), Timestamp::now()).await?;
    Ok(Json(CalendarMade { address: format!("{}/api/public/calendars/{token}{ENDING}", here.app.settings.public_url) }))
}

/// Withdraws an address of mine: it leads nowhere from here on.
#[utoipa::path(delete, path = "/api/calendars/{number}", params(("number" = i64, Path)), responses((status = 204)))]
pub(super) async fn withdraw(State(app): State<App>, caller: Caller, Path(number): Path<i64>) -> Result<StatusCode, Problem> {
    caller.actor()?;
    if app.store.withdraw_calendar_address(caller.person()?, number).await? {
        Ok(StatusCode::NO_CONTENT)
    } else {
        Err(Fault::not_found("address").into())
    }
}

/// A calendar at its live address: the view now, as the person sees it who made the address.
#[utoipa::path(get, path = "/api/public/calendars/{token}", params(("token" = String, Path)), responses((status = 200, body = String, content_type = "text/calendar")))]
pub(super) async fn live(State(app): State<App>, Path(token): Path<String>, headers: HeaderMap) -> Result<Response, Problem> {
    let unknown = || Problem::from(Fault::not_found("calendar"));
    let at = app.store.calendar_at(&hash(token.trim_end_matches(ENDING))).await?.ok_or_else(unknown)?;
    let live = app.tracker(at.tracker).await?;
    // Whoever left, or to whom the tracker or the view is not open any more, has no calendar of it.
    let look = live.look(Asker::Person(at.person)).map_err(|_| unknown())?;
    let site = Site { tracker: at.tracker, address: app.settings.public_url.clone() };
    let written = app.rooms.read(move || {
        let lens = look.lens();
        let view = look.dataset.view(at.view).filter(|view| lens.knows(view))?.clone();
        let query = view.query.as_open_to(&lens, view.table);
        site.calendar(&look, view.table, &query, &view.name, Some(AGAIN)).ok()
    });
    let written = written.await?.ok_or_else(unknown)?;
    app.store.calendar_looked_at(at.number, Timestamp::now()).await?;
    let mark = format!("\"{}\"", data_encoding::HEXLOWER.encode(&Sha256::digest(&written.bytes)));
    let known = headers.get(header::IF_NONE_MATCH).is_some_and(|known| known.as_bytes() == mark.as_bytes());
    let mut response = if known { StatusCode::NOT_MODIFIED.into_response() } else { Body::from(written.bytes).into_response() };
    let told = response.headers_mut();
    told.insert(header::CONTENT_TYPE, HeaderValue::from_static(written.media));
    told.insert(header::CACHE_CONTROL, HeaderValue::from_static("private, no-cache"));
    if let Ok(mark) = HeaderValue::from_str(&mark) {
        told.insert(header::ETAG, mark);
    }
    Ok(response)
}
