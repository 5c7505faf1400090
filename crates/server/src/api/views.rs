//! Views: running one, keeping one.

use super::places::{OfField, OfTable};
use crate::here::Here;
use crate::{
    live::Look,
    problem::{Json, Path, Problem},
};
use jiff::civil::{Date, Weekday};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, BTreeSet};
use utoipa::ToSchema;
use westerfall_core::{
    access::Lens,
    condition::{Condition, days_between},
    fault::{Fault, FaultKind},
    id::{FieldId, RecordId, TableId, ViewId},
    sentence::{Phrase, as_text},
    view::{
        AlmanacDay, AlmanacWeek, Asked, Carrier, DayHours, FieldSlip, Found, Group, Hits, MOST_DAYS, MOST_HOURS, MOST_OF_A_DAY, Mark,
        Ordering, OwnOrder, PartAlone, Query, Row, ShapeOffer, Slice, TallyFigure, View,
    },
};

/// Most rows in one slice, most slices in one answer, and most rows in all of them.
const MOST_ROWS: usize = 500;
const MOST_SLICES: usize = 100;
const MOST_SLICED: usize = 2000;

/// What to show, and which parts of it.
#[derive(Deserialize, ToSchema)]
pub(super) struct QueryBody {
    query: Query,
    /// The view whose own order they stand in.
    #[serde(default)]
    view: Option<ViewId>,
    /// The link under which they stand as lines, whose order by hand they stand in.
    #[serde(default)]
    under: Option<FieldId>,
    /// The rows wanted, at most 2000 in all.
    #[serde(default)]
    slices: Vec<Places>,
    /// Records that stay in sight whether or not the condition holds: new ones.
    #[serde(default)]
    keep: Vec<RecordId>,
}

/// Some rows, by their places in the view's order.
#[derive(Clone, Copy, Deserialize, ToSchema)]
pub(super) struct Places {
    /// Place of the first, from 0.
    start: usize,
    /// How many, at most 500.
    count: usize,
}

/// What a view shows: all that is told once, and the first rows that are asked for.
#[derive(Serialize, ToSchema)]
pub(super) struct QueryReply {
    /// The state of the tracker that this is of.
    seq: u64,
    /// The tables whose records it depends on.
    of: BTreeSet<TableId>,
    /// Records in one's reach.
    total: usize,
    /// Of these, those that the condition holds for.
    matching: usize,
    /// The same in words.
    counted: String,
    /// Rows in all, those kept in sight included.
    row_count: usize,
    /// The fields of the cells, in their order. Fields not open to the asker are left out.
    fields: Vec<FieldId>,
    slices: Vec<SliceReply>,
    /// The groups as a tree; of lanes, the lanes first.
    groups: Vec<Group>,
    tallies: Vec<TallyFigure>,
    /// On plates that draw a length, the longest of them.
    longest: Option<String>,
    /// Where the records that stay in sight stand.
    kept: Vec<KeptPlace>,
    sentence: Vec<Phrase>,
    /// Whether they stand by hand, and can be put elsewhere.
    ordering: Ordering,
    /// Where nothing fits: what each part of the condition would leave alone.
    alone: Vec<PartAlone>,
    /// The shapes that it could be shown in.
    shapes: Vec<ShapeOffer>,
}

impl QueryBody {
    /// The order by hand that they stand in, where they do.
    fn own<'a>(&self, lens: &Lens<'a>) -> Option<&'a OwnOrder> {
        self.under.map_or_else(|| lens.own_order(self.view?), |field| lens.line_order(field))
    }

    /// The same of what is linked to a record alone: nothing else stays in sight beside it.
    pub(super) fn linked_to(mut self, link: FieldId, record: RecordId) -> Self {
        self.query.condition = Condition::linked_to(link, record);
        self.keep.clear();
        (self.view, self.under) = (None, None);
        self
    }
}

impl QueryReply {
    /// The same with other numbers in the place of some records.
    pub(super) fn renumbered(mut self, numbers: &BTreeMap<RecordId, RecordId>) -> Self {
        for row in self.slices.iter_mut().flat_map(|slice| &mut slice.rows) {
            row.id = numbers.get(&row.id).copied().unwrap_or(row.id);
        }
        self
    }
}

/// More rows of a view.
#[derive(Serialize, ToSchema)]
pub(super) struct SlicesReply {
    /// The state of the tracker that this is of.
    seq: u64,
    slices: Vec<SliceReply>,
}

/// Some rows of a view.
#[derive(Serialize, ToSchema)]
pub(super) struct SliceReply {
    start: usize,
    rows: Vec<Row>,
}

/// Where a record stands.
#[derive(Serialize, ToSchema)]
pub(super) struct KeptPlace {
    record: RecordId,
    place: usize,
}

/// Shows a table in the way asked, saved or not: its counts, groups and figures, and some of its rows.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/query", params(OfTable), request_body = QueryBody, responses((status = 200, body = QueryReply)))]
pub(super) async fn query(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<QueryBody>,
) -> Result<Json<QueryReply>, Problem> {
    let look = here.look()?;
    here.app.rooms.read(move || answer(&look, table, &body)).await?.map(Json)
}

/// More rows of what is shown, as they come into sight.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/slices", params(OfTable), request_body = QueryBody, responses((status = 200, body = SlicesReply)))]
pub(super) async fn slices(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<QueryBody>,
) -> Result<Json<SlicesReply>, Problem> {
    let look = here.look()?;
    let sliced = move || {
        let lens = look.lens();
        let query = asked(&lens, table, &body)?;
        let own = body.own(&lens);
        let found = query.found(&lens, table, &body.keep).ordered(own);
        let (slices, _) = sliced(&lens, table, &query, &found, &body.slices);
        Ok(SlicesReply { seq: look.dataset.seq, slices })
    };
    here.app.rooms.read(sliced).await?.map(Json)
}

/// The query as it is open to the asker.
fn asked(lens: &Lens<'_>, table: TableId, body: &QueryBody) -> Result<Query, Problem> {
    if lens.dataset().table(table).is_none() || !lens.opens(table) {
        return Err(Fault::not_found("table").into());
    }
    let too_many = |message: String, at: &str| Err(Fault::new(FaultKind::TooLong, message).at(at).into());
    if body.keep.len() > MOST_ROWS {
        return too_many(format!("At most {MOST_ROWS} records can be kept in sight."), "/keep");
    }
    if body.slices.len() > MOST_SLICES || body.slices.iter().map(|span| span.count.min(MOST_ROWS)).sum::<usize>() > MOST_SLICED {
        return too_many(format!("At most {MOST_SLICED} rows in {MOST_SLICES} slices are told at once."), "/slices");
    }
    Ok(body.query.asked_by(lens, table)?)
}

/// Rows with what stands in them, and where those kept in sight are.
fn sliced(lens: &Lens<'_>, table: TableId, query: &Query, found: &Found<'_, '_>, wanted: &[Places]) -> (Vec<SliceReply>, Vec<KeptPlace>) {
    let range = |span: &Places| span.start..span.start.saturating_add(span.count.min(MOST_ROWS));
    let (slices, kept) = found.slices(&wanted.iter().map(range).collect::<Vec<_>>());
    let told = query.rows(lens, table);
    let reply = |(span, slice): (&Places, Slice)| {
        let mut rows = told(&slice.records);
        for row in &mut rows {
            row.outside = slice.outside.contains(&row.id);
        }
        SliceReply { start: span.start, rows }
    };
    let kept = kept.into_iter().map(|(record, place)| KeptPlace { record, place }).collect();
    (wanted.iter().zip(slices).map(reply).collect(), kept)
}

pub(super) fn answer(look: &Look, table: TableId, body: &QueryBody) -> Result<QueryReply, Problem> {
    let lens = look.lens();
    let query = asked(&lens, table, body)?;
    let own = body.own(&lens);
    let found = query.found(&lens, table, &body.keep).ordered(own);
    let whole = found.whole();
    let (slices, kept) = sliced(&lens, table, &query, &found, &body.slices);
    let alone = if whole.matching == 0 && whole.total > 0 { query.parts_alone(&lens, table) } else { Vec::new() };
    Ok(QueryReply {
        of: lens.tables_of(&query, table),
        seq: look.dataset.seq,
        total: whole.total,
        matching: whole.matching,
        counted: whole.counted,
        row_count: whole.rows,
        fields: query.fields.iter().map(|f| f.field).collect(),
        slices,
        groups: whole.groups,
        tallies: whole.tallies,
        longest: whole.longest.map(|longest| longest.to_string()),
        kept,
        sentence: query.to_sentence(&lens, table, whole.total, whole.matching, own),
        ordering: query.ordering(&lens, look.asker, table, body.view),
        alone,
        shapes: query.shapes(&lens, table),
    })
}

/// Which days of a calendar are wanted.
#[derive(Deserialize, ToSchema)]
pub(super) struct DaysBody {
    query: Query,
    /// At most 400 days.
    #[schema(value_type = String)]
    from: Date,
    #[schema(value_type = String)]
    to: Date,
    /// Most marks of one day, at most 400.
    of_a_day: usize,
    /// Most records without a day, at most 400.
    waiting: usize,
    /// Whether the hours of the days are wanted, of at most 7.
    #[serde(default)]
    hours: bool,
    /// On which day weeks begin, from 0, Sunday; nothing: on Monday.
    #[serde(default)]
    week_begins: Option<u8>,
}

/// A day of the week by its number, from 0, Sunday.
fn weekday(number: u8) -> Option<Weekday> {
    Weekday::from_sunday_zero_offset(i8::try_from(number).ok()?).ok()
}

/// What stands on the days of a calendar.
#[derive(Serialize, ToSchema)]
pub(super) struct DaysReply {
    /// The state of the tracker that this is of.
    seq: u64,
    /// Days on which something stands.
    days: Vec<AlmanacDay>,
    weeks: Vec<AlmanacWeek>,
    marks: Vec<Mark>,
    /// The records that are marked, each once.
    rows: Vec<Row>,
    /// How many records have no day, and in words.
    without: usize,
    without_counted: String,
    /// The first of them.
    waiting: Vec<Row>,
    /// The hours of each day, and what each of those who are out carries.
    hours: Vec<DayHours>,
    carriers: Vec<Carrier>,
    /// Today, where the tracker is.
    #[schema(value_type = String)]
    today: Date,
}

/// What stands on some days of a view that is a calendar.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/days", params(OfTable), request_body = DaysBody, responses((status = 200, body = DaysReply)))]
pub(super) async fn days(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<DaysBody>,
) -> Result<Json<DaysReply>, Problem> {
    let look = here.look()?;
    let answered = move || {
        let lens = look.lens();
        if look.dataset.table(table).is_none() || !lens.opens(table) {
            return Err(Fault::not_found("table").into());
        }
        if body.to < body.from || days_between(body.from, body.to) > MOST_DAYS {
            let message = format!("A calendar tells of at most {MOST_DAYS} days at once, the first of them first.");
            return Err(Fault::new(FaultKind::TooLong, message).at("/to").into());
        }
        if body.hours && days_between(body.from, body.to) >= MOST_HOURS {
            let message = format!("The hours of at most {MOST_HOURS} days are told at once.");
            return Err(Fault::new(FaultKind::TooLong, message).at("/to").into());
        }
        let query = body.query.asked_by(&lens, table)?;
        let most = |wanted: usize| wanted.min(MOST_OF_A_DAY);
        let stretch = query.stretch(
            &lens,
            table,
            &Asked {
                from: body.from,
                to: body.to,
                of_a_day: most(body.of_a_day),
                waiting: most(body.waiting),
                hours: body.hours,
                week_begins: body.week_begins.and_then(weekday).unwrap_or(Weekday::Monday),
            },
        );
        Ok(DaysReply {
            seq: look.dataset.seq,
            days: stretch.days,
            weeks: stretch.weeks,
            marks: stretch.marks,
            rows: stretch.rows,
            without: stretch.without,
            without_counted: stretch.without_counted,
            waiting: stretch.waiting,
            hours: stretch.hours,
            carriers: stretch.carriers,
            today: look.clock.today(),
        })
    };
    here.app.rooms.read(answered).await?.map(Json)
}

/// What is looked for, and among what.
#[derive(Deserialize, ToSchema)]
pub(super) struct HitsBody {
    query: Query,
    /// The view whose own order they stand in.
    #[serde(default)]
    view: Option<ViewId>,
    /// Records that stay in sight whether or not the condition holds.
    #[serde(default)]
    keep: Vec<RecordId>,
    text: String,
    /// Some of the fields shown; none: all of them.
    #[serde(default)]
    fields: Vec<FieldId>,
}

/// Where words stand among what a view shows, in its order.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/hits", params(OfTable), request_body = HitsBody, responses((status = 200, body = Hits)))]
pub(super) async fn hits(
    here: Here,
    Path(OfTable { table, .. }): Path<OfTable>,
    Json(body): Json<HitsBody>,
) -> Result<Json<Hits>, Problem> {
    let look = here.look()?;
    let found = move || {
        let lens = look.lens();
        let HitsBody { query, view, keep, text, fields } = body;
        let of = QueryBody { query, view, under: None, slices: Vec::new(), keep };
        let query = asked(&lens, table, &of)?;
        let own = of.own(&lens);
        Ok(query.hits(&lens, table, own, &of.keep, &text, &fields))
    };
    here.app.rooms.read(found).await?.map(Json)
}

/// A view as it stands in a list of views.
#[derive(Serialize, ToSchema)]
pub(super) struct ViewLine {
    view: ViewId,
    /// What it shows, in one sentence.
    sentence: String,
    /// Records in one’s reach for which its condition holds.
    matching: usize,
}

/// What each view of a table shows.
#[utoipa::path(get, path = "/api/trackers/{tracker}/tables/{table}/views", params(OfTable), responses((status = 200, body = Vec<ViewLine>)))]
pub(super) async fn list(here: Here, Path(OfTable { table, .. }): Path<OfTable>) -> Result<Json<Vec<ViewLine>>, Problem> {
    let look = here.look()?;
    let listed = move || {
        let lens = look.lens();
        if look.dataset.table(table).is_none() || !lens.opens(table) {
            return Err(Fault::not_found("table").into());
        }
        let line = |view: &View| {
            let query = view.query.as_open_to(&lens, table);
            let matching = query.condition.matching(&lens, table).count_ones(..);
            let sentence = as_text(&query.to_sentence(&lens, table, lens.count(table), matching, lens.own_order(view.id)));
            ViewLine { view: view.id, sentence, matching }
        };
        Ok(look.dataset.views_of(table).into_iter().filter(|view| lens.knows(view)).map(line).collect())
    };
    here.app.rooms.read(listed).await?.map(Json)
}

/// Over which records a field is looked into.
#[derive(Deserialize, ToSchema)]
pub(super) struct SlipBody {
    query: Query,
    /// Words that stand in the values which are drawn.
    #[serde(default)]
    search: String,
}

/// What is in a field of a view: in a sentence, as a drawing, and what can be done with it.
#[utoipa::path(post, path = "/api/trackers/{tracker}/tables/{table}/fields/{field}/slip", params(OfField), request_body = SlipBody, responses((status = 200, body = FieldSlip)))]
pub(super) async fn slip(
    here: Here,
    Path(OfField { table, field, .. }): Path<OfField>,
    Json(body): Json<SlipBody>,
) -> Result<Json<FieldSlip>, Problem> {
    let look = here.look()?;
    let looked = move || Ok(body.query.look_into(&look.lens(), table, field, &body.search)?);
    here.app.rooms.read(looked).await?.map(Json)
}
