//! What the team shares with people outside: a page for the clerk of a parish council, who says where the parish can help.

use crate::{Step, Teller, ids::*, makers::*, option, person_id, stage, text, words};
use jiff::{SignedDuration, ToSpan, civil::Date};
use westerfall_core::{
    access::Asker,
    condition::{Check, Condition},
    id::{FormId, GuestId, PageId, RecordId},
    intent::{Edit, Intent},
    page::{Block, Door, Guest, Page, PageRecords},
    part::Part,
    view::Query,
};

/// The last part of the page's address.
pub const PAGE_LINK: &str = "eskermoor-parish";
/// The address at which the parish's clerk gets codes.
pub const CLERK: &str = "clerk@eskermoor-parish.example";

/// The district that lies in the parish, by its place among the districts.
const ESKERMOOR: usize = 0;

const PARISH_PAGE: PageId = PageId::new(PAGE).expect("not zero");

/// Open faults of the one parish; two fields may be filled in, and what is missing is sent in by the form that walkers use.
pub(crate) fn clerks_page(today: Date) -> Part {
    use {faults as f, sections as s};
    let in_parish = test(&[f::SECTION, s::DISTRICT], Check::Record { not: false, any: vec![RecordId::at_row(ESKERMOOR)] });
    let query = Query {
        condition: Condition::All(vec![in_parish, status_open()]),
        sorts: vec![up(f::DUE)],
        fields: shown(&[
            (f::TITLE, 220),
            (f::SECTION, 180),
            (f::STATUS, 110),
            (f::DUE, 110),
            (f::PARISH_HELPS, 120),
            (f::PARISH_NOTE, 220),
        ]),
        ..Query::default()
    };
    let records = PageRecords {
        offers: std::collections::BTreeMap::new(),
        number: 1,
        table: f::TABLE,
        title: "Still open".into(),
        query,
        changes: [f::PARISH_HELPS, f::PARISH_NOTE].into(),
        adds: false,
        removes: false,
        only: Condition::default(),
    };
    let clerk = Guest { id: GuestId::FIRST, mail: CLERK.into(), name: "the clerk of Eskermoor Parish Council".into(), gone: false };
    Part::Page(Page {
        id: PARISH_PAGE,
        title: "Path faults in Eskermoor parish".into(),
        intro: String::new(),
        link: PAGE_LINK.into(),
        open: true,
        until: Some(today.saturating_add(4.months()).last_of_month()),
        door: Door::Named,
        guests: vec![clerk],
        blocks: vec![Block::Records(Box::new(records)), Block::Form(FormId::new(FORM).expect("not zero"))],
        colour: None,
        embed: Vec::new(),
        by: Some(person_id(1)),
    })
}

impl Teller {
    /// What the clerk has filled in so far, two days ago.
    pub(crate) fn clerk(&self, count: usize) -> Vec<Step> {
        use faults as f;
        let says = [(0, "hinges are in the hall"), (1, "we hold a spare"), (2, ""), (0, "the parish has a sign painter")];
        let in_parish = |n: &usize| words::section_district(crate::dice(*n, 14, words::SECTIONS)) == ESKERMOOR;
        let open = |n: &usize| stage(*n, self.age(*n, count)) < 4;
        // The last three come by the form, after this.
        let rows = (0..count.saturating_sub(3)).filter(|n| in_parish(n) && open(n));
        let asker = Asker::Visitor { page: PARISH_PAGE, guest: Some(GuestId::FIRST) };
        let step = |(place, (row, (helps, note))): (i64, (usize, (usize, &str)))| {
            let edit = |field, input| Edit { field, input, was: None };
            let edits = vec![edit(f::PARISH_HELPS, option(PARISH_HELPS[helps])), edit(f::PARISH_NOTE, text(note))];
            let intent = Intent::Edit { table: f::TABLE, record: RecordId::at_row(row), edits };
            let step = self.step(2, asker, intent);
            Step { at: step.at + SignedDuration::from_mins(4 * place), ..step }
        };
        (0..).zip(rows.skip(1).step_by(2).zip(says)).map(step).collect()
    }
}
