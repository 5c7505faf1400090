//! Records as a shared page shows them, in the shape that it gives them: in groups, lanes and cells, on days and on plates.
//!
//! What stands together is worked out over what the visitor sees, and told in words alone: no value is named by its number, and no
//! value that nobody sees, but for the options of a choice.

use super::{PageRecords, Visitor, sheet};
use crate::{
    Clock,
    access::Lens,
    condition::{Condition, days_between},
    dataset::{Dataset, RecordName},
    fault::{Checked, Fault, FaultKind},
    highlight::RecordLooks,
    id::{FieldId, RecordId, TableId},
    schema::{Hue, within_sentence},
    value::{CellValue, Value, typed},
    view::{
        AlmanacDate, Asked, CardSize, CellView, CrossCell, CrossHead, CrossPart, Crossed, Drawn, Fit, Group, GroupBy, MOST_DAYS, Mark,
        Order, Query, Row, Shape, TallyFigure, counted, leaves_out,
    },
};
use jiff::civil::{Date, Weekday};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::ops::Range;

/// Most records that are shown at once, and most of one lane and of one day.
const MOST_ROWS: usize = 1_000;
const MOST_OF_A_LANE: usize = 200;
const MOST_OF_A_DAY: usize = 200;

/// In which shape a page shows records, with what whoever draws it has to know.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "as", rename_all = "lowercase")]
pub enum PageShape {
    Rows,
    Lanes {
        by: FieldId,
    },
    Calendar {
        /// What each of its dates is called: *due*, *begins to ends*.
        dates: Vec<String>,
        /// Today, where the tracker is.
        #[cfg_attr(feature = "openapi", schema(value_type = String))]
        today: Date,
    },
    Cards {
        /// The field whose first picture stands on each.
        picture: Option<FieldId>,
        size: CardSize,
        fit: Fit,
    },
    #[serde(rename = "cross-tab")]
    CrossTab,
}

/// How a visitor wants the records for themselves alone.
#[derive(Clone, Debug, Default, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct PageAsking {
    pub condition: Condition,
    /// Nothing: as the page puts them.
    pub sorts: Vec<Order>,
    pub start: usize,
    pub count: usize,
}

/// Records of a page, from one place on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageRows {
    /// All that the page shows there.
    pub total: usize,
    /// Those among them that were asked for.
    pub matching: usize,
    pub start: usize,
    /// As they stand in their groups; of lanes, so many of each.
    pub rows: Vec<PageRow>,
    pub groups: Vec<PageGroup>,
    /// The figures of all that were asked for.
    pub figures: Vec<String>,
    /// On plates that draw a length, the longest of them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub longest: Option<Decimal>,
}

/// A record as a page shows it: its cells in the order of the columns.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageRow {
    pub id: RecordId,
    pub cells: Vec<Option<PageCell>>,
    /// Whether it may be filled in, and removed.
    pub change: bool,
    pub remove: bool,
    /// How it looks, where a highlight touches it whose condition is open to the visitor.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub looks: Option<RecordLooks>,
    /// What is drawn on its plate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub drawn: Option<Drawn>,
    /// Which of the sections it does not have, by their places.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub without: Vec<usize>,
}

/// A cell of a page.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageCell {
    pub text: String,
    /// What it holds, where one fills it in, or it is a choice or a file. Nothing else is named by its number.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub value: Option<CellValue>,
    /// As one would type it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub typed: String,
    /// Of a link that one fills in: what it holds, by name.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub links: Vec<RecordName>,
}

/// Records that have something in common.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(no_recursion))]
pub struct PageGroup {
    /// *in hand*; of what has no value, *no status*.
    pub text: String,
    /// The colour of an option.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
    pub count: usize,
    /// The same in words: *3 faults*.
    pub counted: String,
    pub figures: Vec<String>,
    /// How many of its records are among those told; of one with groups within, none.
    pub shown: usize,
    pub within: Vec<PageGroup>,
}

/// Which days of a calendar a visitor looks at, and which records for themselves alone.
#[derive(Clone, Debug, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageDaysAsking {
    #[serde(default)]
    pub condition: Condition,
    /// At most 400 days.
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub from: Date,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub to: Date,
}

/// What stands on some days of a page’s calendar.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageDays {
    pub marks: Vec<Mark>,
    /// The records that are marked, each once.
    pub rows: Vec<PageRow>,
    /// Those without a day, in words: *3 faults*. Empty where there are none.
    pub without: String,
    /// The first of them.
    pub waiting: Vec<PageRow>,
}

/// A cross-tab for oneself alone.
#[derive(Clone, Debug, Default, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(default)]
pub struct PageCrossAsking {
    pub condition: Condition,
}

/// A cross-tab as a page shows it. Its first row and its first column are totals.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageCrossed {
    pub rows: Vec<PageCrossHead>,
    pub columns: Vec<PageCrossHead>,
    /// By row and column; nothing where no record is.
    pub cells: Vec<Vec<Option<PageCrossCell>>>,
    /// What is told apart within each cell.
    pub within: Vec<PageCrossPart>,
    /// Under it: *97 faults*, *the sum of hours needed 472.5 h*.
    pub foot: Vec<String>,
}

/// What stands at the head of a row or a column.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageCrossHead {
    pub text: String,
    /// How many values it is of: none for the total, two for one within another.
    pub depth: usize,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
}

/// An option that is told apart within cells.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageCrossPart {
    pub text: String,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hue: Option<Hue>,
}

/// What stands in a cell.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PageCrossCell {
    /// What it leads with: the count or the first figure.
    pub text: String,
    /// What else is told of it: *12 faults*, *8.0 h*, *27 %*. What its figures are is said once, of the part.
    pub also: Vec<String>,
    /// How far it reaches towards the most that a cell leads with, from 0 to 1; of totals none.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length: Option<Decimal>,
    /// How many records of each part within it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub within: Vec<usize>,
}

impl PageShape {
    pub(super) fn of(records: &PageRecords, ds: &Dataset, clock: &Clock) -> Self {
        let name = |field: FieldId| {
            let def = ds.table(records.table).and_then(|home| home.def.field(field));
            def.map_or_else(String::new, |def| within_sentence(&def.name))
        };
        match &records.query.shape {
            Shape::Rows(_) => Self::Rows,
            Shape::Lanes(lanes) => Self::Lanes { by: lanes.by },
            Shape::Calendar(almanac) => {
                let date = |date: &AlmanacDate| match date.end {
                    Some(end) => format!("{} to {}", name(date.start), name(end)),
                    None => name(date.start),
                };
                Self::Calendar { dates: almanac.dates.iter().map(date).collect(), today: clock.today() }
            }
            Shape::Cards(cards) => Self::Cards { picture: cards.picture, size: cards.size, fit: cards.fit },
            Shape::CrossTab(_) => Self::CrossTab,
        }
    }
}

impl Visitor<'_> {
    /// The records of one part, as one wants them for oneself.
    ///
    /// # Errors
    /// There is no such part, or it is asked by what is not shown there.
    pub fn rows(&self, number: u32, asking: &PageAsking) -> Checked<PageRows> {
        let (records, lens) = self.part(number)?;
        let query = self.narrowed(records, &lens, &asking.condition, &asking.sorts)?;
        let table = records.table;
        let found = query.found(&lens, table, &[]);
        let whole = found.whole();
        let spans = spans(&query, asking, &whole.groups);
        let (slices, _) = found.slices(&spans);
        let told = query.rows(&lens, table);
        let rows = slices.iter().flat_map(|slice| told(&slice.records)).map(|row| self.row(&lens, &query, records.table, row)).collect();
        Ok(PageRows {
            total: whole.total,
            matching: whole.matching,
            start: asking.start,
            rows,
            groups: Together { lens: &lens, records, told: &spans, at: 0 }.groups(&query.grouping(), &whole.groups),
            figures: texts(&whole.tallies),
            longest: whole.longest,
        })
    }

    /// What stands on some days of a part that is a calendar.
    ///
    /// # Errors
    /// There is no such part, it is no calendar, it is asked by what is not shown there, or of too many days.
    pub fn days(&self, number: u32, asking: &PageDaysAsking) -> Checked<PageDays> {
        let PageDaysAsking { condition, from, to } = asking;
        if to < from || days_between(*from, *to) > MOST_DAYS {
            let message = format!("A calendar tells of at most {MOST_DAYS} days at once, the first of them first.");
            return Err(Fault::new(FaultKind::TooLong, message).at("/to").into());
        }
        let (records, lens) = self.part(number)?;
        let query = self.narrowed(records, &lens, condition, &[])?;
        if !matches!(query.shape, Shape::Calendar(_)) {
            return Err(Fault::not_found("part").into());
        }
        let asked =
            Asked { from: *from, to: *to, of_a_day: MOST_OF_A_DAY, waiting: MOST_OF_A_DAY, hours: false, week_begins: Weekday::Monday };
        let stretch = query.stretch(&lens, records.table, &asked);
        let rows = |rows: Vec<Row>| rows.into_iter().map(|row| self.row(&lens, &query, records.table, row)).collect();
        Ok(PageDays {
            marks: stretch.marks,
            rows: rows(stretch.rows),
            without: if stretch.without == 0 { String::new() } else { stretch.without_counted },
            waiting: rows(stretch.waiting),
        })
    }

    /// The figures of a part that is a cross-tab.
    ///
    /// # Errors
    /// There is no such part, it is no cross-tab, it is asked by what is not shown there, or there is more than anybody reads.
    pub fn crossed(&self, number: u32, asking: &PageCrossAsking) -> Checked<PageCrossed> {
        let (records, lens) = self.part(number)?;
        let query = self.narrowed(records, &lens, &asking.condition, &[])?;
        if !matches!(query.shape, Shape::CrossTab(_)) {
            return Err(Fault::not_found("part").into());
        }
        Ok(PageCrossed::of(query.crossed(&lens, records.table)?, &query, &lens, records.table))
    }

    fn part(&self, number: u32) -> Result<(&PageRecords, Lens<'_>), Fault> {
        let records = self.page.block(number).ok_or_else(|| Fault::not_found("part"))?;
        Ok((records, self.lens_of(number)))
    }

    /// What a part shows, narrowed and put in order for oneself.
    fn narrowed(&self, records: &PageRecords, lens: &Lens<'_>, condition: &Condition, sorts: &[Order]) -> Checked<Query> {
        let sorts = if sorts.is_empty() { records.query.sorts.clone() } else { sorts.to_vec() };
        // Its own condition is the lens’s.
        let shape = records.query.shape.outside();
        Query { condition: condition.clone(), sorts, shape, ..records.query.clone() }.asked_by(lens, records.table)
    }

    fn row(&self, lens: &Lens<'_>, query: &Query, table: TableId, row: Row) -> PageRow {
        let fields: Vec<FieldId> = query.fields.iter().map(|shown| shown.field).collect();
        let laid = self.ds.table(table).map(|home| sheet::sections(&home.def, &fields)).unwrap_or_default();
        PageRow {
            id: row.id,
            without: sheet::without(lens, table, row.id, &laid),
            cells: row.cells.into_iter().zip(fields).map(|(cell, field)| Some(self.cell(lens, table, field, cell?))).collect(),
            change: row.change,
            remove: row.remove,
            looks: row.looks,
            drawn: row.drawn,
        }
    }

    fn cell(&self, lens: &Lens<'_>, table: TableId, field: FieldId, cell: CellView) -> PageCell {
        let fills = lens.writes(table, field);
        let tells = fills || matches!(cell.value, Value::Choice(_) | Value::Choices(_) | Value::Files(_));
        let kind = self.ds.table(table).and_then(|home| home.def.field(field)).map(|def| &def.kind);
        let as_typed = kind.filter(|_| fills).and_then(|kind| typed(&cell.value, kind, self.clock.typed(self.ds.tracker.locale)));
        PageCell {
            typed: if fills { as_typed.unwrap_or_else(|| cell.text.clone()) } else { String::new() },
            text: cell.text,
            links: if fills { cell.links } else { Vec::new() },
            value: tells.then_some(cell.value),
        }
    }
}

/// Which places of the order are told: from one on; or so many of each lane.
fn spans(query: &Query, asking: &PageAsking, groups: &[Group]) -> Vec<Range<usize>> {
    if !query.is_ordered() {
        return Vec::new();
    }
    if !matches!(query.shape, Shape::Lanes(_)) {
        return std::iter::once(asking.start..asking.start.saturating_add(asking.count.min(MOST_ROWS))).collect();
    }
    let mut at = 0_usize;
    let lane = |group: &Group| {
        let start = at;
        at = at.saturating_add(group.count);
        start..at.min(start.saturating_add(asking.count.min(MOST_OF_A_LANE)))
    };
    groups.iter().map(lane).collect()
}

/// Groups on their way into words.
struct Together<'a, 'd> {
    lens: &'a Lens<'d>,
    records: &'a PageRecords,
    /// Which places of the order are told.
    told: &'a [Range<usize>],
    /// Where the next group begins in the order.
    at: usize,
}

impl Together<'_, '_> {
    /// Groups, each with how many of its records are told.
    fn groups(&mut self, by: &[GroupBy], of: &[Group]) -> Vec<PageGroup> {
        let Some((first, further)) = by.split_first() else { return Vec::new() };
        let (ds, table, field) = (self.lens.dataset(), self.records.table, first.field);
        let options = ds.shown_kind(table, field).map_or(&[][..], |(_, kind)| kind.shows().options());
        let name = ds.table(table).and_then(|home| home.def.field(field)).map(|def| within_sentence(&def.name)).unwrap_or_default();
        let mut all = Vec::new();
        for group in of {
            let start = self.at;
            let within = self.groups(further, &group.within);
            self.at = start.saturating_add(group.count);
            if group.count == 0 && !self.is_told_empty(field, &group.value) {
                continue;
            }
            let overlap = |span: &Range<usize>| span.end.min(self.at).saturating_sub(span.start.max(start));
            all.push(PageGroup {
                text: if group.text.is_empty() { format!("no {name}") } else { group.text.clone() },
                hue: options.iter().find(|option| Value::Choice(option.id) == group.value).map(|option| option.hue),
                count: group.count,
                counted: group.counted.clone(),
                figures: texts(&group.tallies),
                shown: if within.is_empty() { self.told.iter().map(overlap).sum() } else { 0 },
                within,
            });
        }
        all
    }

    /// Of what nobody here has, only options are told: they are offered anyway. Not those that are never here.
    fn is_told_empty(&self, field: FieldId, value: &Value) -> bool {
        matches!(value, Value::Choice(_)) && !leaves_out(&self.records.query.condition, field, value)
    }
}

fn texts(figures: &[TallyFigure]) -> Vec<String> {
    figures.iter().map(|figure| figure.text.clone()).collect()
}

impl PageCrossed {
    fn of(crossed: Crossed, query: &Query, lens: &Lens<'_>, table: TableId) -> Self {
        let leads = matches!(&query.shape, Shape::CrossTab(tab) if tab.leads_with(!query.tallies.is_empty()));
        let head = |head: CrossHead| PageCrossHead { text: head.text, depth: head.depth, hue: head.hue };
        let options = match &query.shape {
            Shape::CrossTab(tab) => tab.within.and_then(|field| lens.dataset().shown_kind(table, field)),
            _ => None,
        };
        let options = options.map_or(&[][..], |(_, kind)| kind.shows().options());
        let part = |part: CrossPart| PageCrossPart {
            hue: options.iter().find(|option| Value::Choice(option.id) == part.value).map(|option| option.hue),
            text: part.text,
        };
        let most = crossed.most.filter(|most| *most > Decimal::ZERO);
        let cell = |cell: CrossCell, total: bool| {
            let mut also = texts(cell.figures.get(usize::from(leads)..).unwrap_or_default());
            also.retain(|text| !text.is_empty());
            if leads {
                also.insert(0, counted(lens, table, cell.count));
            }
            also.extend(Some(cell.share).filter(|share| !share.is_empty()));
            let text = if leads { cell.figures.first().map(|figure| figure.text.clone()).unwrap_or_default() } else { cell.text };
            let length = cell.lead.zip(most).filter(|_| !total).and_then(|(lead, most)| lead.checked_div(most));
            let length = length.map(|length| length.clamp(Decimal::ZERO, Decimal::ONE).round_dp(3));
            PageCrossCell { text, also, length, within: if total { Vec::new() } else { cell.within } }
        };
        let rows =
            crossed.cells.into_iter().enumerate().map(|(row, cells)| {
                cells.into_iter().enumerate().map(|(column, told)| Some(cell(told?, row == 0 || column == 0))).collect()
            });
        Self {
            cells: rows.collect(),
            rows: crossed.rows.into_iter().map(head).collect(),
            columns: crossed.columns.into_iter().map(head).collect(),
            within: crossed.within.into_iter().map(part).collect(),
            foot: crossed.foot,
        }
    }
}
