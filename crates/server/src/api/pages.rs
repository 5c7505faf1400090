//! The shared pages of a tracker, for those who let people in.

use super::parts::page::{PageDesign, address, design};
use super::places::{OfPage, OfTracker, OfView};
use crate::{
    here::Here,
    live::Look,
    problem::{Json, Path, Problem},
};
use serde::Serialize;
use utoipa::ToSchema;
use westerfall_core::{
    fault::Fault,
    id::{GuestId, PageId},
    page::{Page, PageRecords},
    sentence::as_text,
    value::moment_text,
};
use westerfall_store::PageVisits;

/// A page in the list of pages.
#[derive(Serialize, ToSchema)]
pub(super) struct PageLine {
    id: PageId,
    title: String,
    /// Whether it can be come to today.
    open: bool,
    /// Who comes in, and until when, as a sentence.
    door: String,
    /// What they may do, a sentence for each part.
    gives: Vec<String>,
    address: String,
    /// Who came, and when last.
    visits: Vec<VisitLine>,
}

/// How often somebody came, and when last.
#[derive(Serialize, ToSchema)]
pub(super) struct VisitLine {
    /// Whom the page names; nothing: nobody in particular.
    guest: Option<GuestId>,
    /// *3 visits, the last 27 Nov 2026, 09:31*.
    says: String,
}

fn visit(look: &Look, visits: PageVisits) -> VisitLine {
    let number = usize::try_from(visits.visits).unwrap_or(usize::MAX);
    let counted = look.clock.customs().count_words(number, "visit", "visits");
    VisitLine { guest: visits.guest, says: format!("{counted}, the last {}", moment_text(visits.last, &look.clock)) }
}

/// Those alone who let people in see the pages; for others there are none.
fn as_steward(here: &Here) -> Result<Look, Problem> {
    let look = here.look()?;
    if look.lens().is_steward() { Ok(look) } else { Err(Fault::not_found("page").into()) }
}

/// The shared pages of a tracker.
#[utoipa::path(get, path = "/api/trackers/{tracker}/pages", params(OfTracker), responses((status = 200, body = Vec<PageLine>)))]
pub(super) async fn list(here: Here) -> Result<Json<Vec<PageLine>>, Problem> {
    let look = as_steward(&here)?;
    let visits = here.app.store.page_visits(here.tracker).await?;
    let lens = look.lens();
    let line = |page: &Page| {
        let sentences = page.to_sentences(&lens);
        PageLine {
            id: page.id,
            title: page.title.clone(),
            open: page.is_open_on(look.clock.today()),
            door: as_text(&sentences.door),
            gives: sentences.blocks.iter().map(|phrases| as_text(phrases)).filter(|text| !text.is_empty()).collect(),
            address: address(&here.app, page),
            visits: visits.iter().filter(|(id, _)| *id == page.id).map(|(_, visits)| visit(&look, *visits)).collect(),
        }
    };
    Ok(Json(look.dataset.pages().map(line).collect()))
}

/// One page.
#[utoipa::path(get, path = "/api/trackers/{tracker}/pages/{page}", params(OfPage), responses((status = 200, body = PageDesign)))]
pub(super) async fn show(here: Here, Path(OfPage { page: id, .. }): Path<OfPage>) -> Result<Json<PageDesign>, Problem> {
    let look = as_steward(&here)?;
    let page = look.dataset.page(id).ok_or_else(|| Fault::not_found("page"))?;
    Ok(Json(design(&here.app, &look, page)))
}

/// What a view shows, as a page can show it.
#[utoipa::path(get, path = "/api/trackers/{tracker}/pages/of/{view}", params(OfView), responses((status = 200, body = PageRecords)))]
pub(super) async fn shown_by(here: Here, Path(OfView { view, .. }): Path<OfView>) -> Result<Json<PageRecords>, Problem> {
    let look = as_steward(&here)?;
    let view = look.dataset.view(view).ok_or_else(|| Fault::not_found("view"))?;
    Ok(Json(PageRecords::begun(&look.dataset, view)))
}
