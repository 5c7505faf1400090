//! A shared page as it is sent and shown.

use super::Sent;
use crate::{app::App, live::Look, problem::Problem, secrets::random_hex, session::hash_password};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use westerfall_core::{
    fault::{Checked, Fault, FaultKind},
    id::{PageId, ViewId},
    page::{Door, Page, PageSentences},
    part::Part,
};

/// Shortest and longest passcode, in characters: a shorter one is guessed, a longer one only makes work.
const SHORTEST_PASSCODE: usize = 6;
const LONGEST_PASSCODE: usize = 200;

/// A page to keep. A passcode is given as it is typed; an empty one leaves the one that it has. An empty address takes a new one
/// that nobody can guess.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct PageBody {
    page: Page,
}

/// A new page: closed, showing what a view shows.
#[derive(Deserialize, ToSchema)]
pub(in crate::api) struct NewPage {
    title: String,
    #[serde(default)]
    view: Option<ViewId>,
}

/// A page with its address, and what it gives, in words.
#[derive(Serialize, ToSchema)]
pub(in crate::api) struct PageDesign {
    /// Its passcode is told to nobody; an empty one stands for it.
    page: Page,
    address: String,
    sentences: PageSentences,
    /// What those who come there would gain and lose by it, in sentences.
    moves: Vec<String>,
}

/// Those alone who let people in: to others there is no such thing.
fn stewards_only(look: &Look) -> Result<(), Fault> {
    if look.lens().is_steward() { Ok(()) } else { Err(Fault::not_found("page")) }
}

impl PageBody {
    /// The same with the passcode as it is kept.
    ///
    /// # Errors
    /// It is too short, or too long.
    pub(in crate::api) async fn hashed(mut self, app: &App) -> Result<Self, Problem> {
        if let Door::Passcode(passcode) = &mut self.page.door
            && !passcode.is_empty()
        {
            check_passcode(passcode)?;
            *passcode = hash_password(&app.rooms, passcode).await?;
        }
        Ok(self)
    }
}

fn check_passcode(passcode: &str) -> Result<(), Fault> {
    if (SHORTEST_PASSCODE..=LONGEST_PASSCODE).contains(&passcode.chars().count()) {
        return Ok(());
    }
    let message = format!("A passcode has from {SHORTEST_PASSCODE} to {LONGEST_PASSCODE} characters. Two words with a hyphen are good.");
    Err(Fault::new(FaultKind::BadRule, message).at("/door"))
}

impl Sent for PageBody {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        stewards_only(look)?;
        let id = number.and_then(PageId::new).unwrap_or(PageId::FIRST);
        let now = number.and_then(|_| look.dataset.page(id));
        let door = match (self.page.door, now.map(|page| &page.door)) {
            (Door::Passcode(given), Some(Door::Passcode(known))) if given.is_empty() => Door::Passcode(known.clone()),
            (door, _) => door,
        };
        let link = if self.page.link.trim().is_empty() { random_hex(10) } else { self.page.link };
        Ok(Page { id, door, link, ..self.page }.into())
    }
}

impl Sent for NewPage {
    fn ready(self, number: Option<u32>, look: &Look) -> Checked<Part> {
        stewards_only(look)?;
        let lens = look.lens();
        let view = match self.view {
            Some(id) => Some(look.dataset.view(id).filter(|view| lens.knows(view)).ok_or_else(|| Fault::not_found("view"))?),
            None => None,
        };
        let id = number.and_then(PageId::new).unwrap_or(PageId::FIRST);
        Ok(Page::begun(&look.dataset, id, self.title.trim(), view, &random_hex(10), lens.me()).into())
    }
}

/// Whether a page's new address is free.
pub(super) async fn may_move(app: &App, before: &Part, after: &Part) -> Result<(), Problem> {
    let (Part::Page(before), Part::Page(after)) = (before, after) else { return Ok(()) };
    if before.link != after.link && app.store.page_at(&after.link).await?.is_some() {
        return Err(Fault::new(FaultKind::InUse, "Another page has this address. Choose another one.").at("/link").into());
    }
    Ok(())
}

pub(in crate::api) fn address(app: &App, page: &Page) -> String {
    format!("{}/p/{}", app.settings.public_url, page.link)
}

pub(in crate::api) fn design(app: &App, look: &Look, page: &Page) -> PageDesign {
    let lens = look.lens();
    let told = match page.door {
        Door::Passcode(_) => Page { door: Door::Passcode(String::new()), ..page.clone() },
        _ => page.clone(),
    };
    PageDesign {
        address: address(app, page),
        sentences: page.to_sentences(&lens),
        moves: page.moves_from(look.dataset.page(page.id), &lens),
        page: told,
    }
}
