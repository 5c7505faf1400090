//! What a coordinator can say, in words: kinds of fields, checks of conditions, orders, periods. The interface offers these and
//! composes none of its own; a new kind or check is offered everywhere from here.

use crate::{
    access::{Base, FieldRight, Reach},
    automation::{Hour, Occasion, Round},
    condition::{Check, Comparison, Condition, Period, TextMatch, When},
    dashboard::Draws,
    figure::Figure,
    form::{AnswerKind, Audience, MAIL_PARTS},
    formula::Formula,
    id::{FieldId, FormId, TableId},
    import::Unmatched,
    intent::Rest,
    page::may_be_filled_in,
    schema::{Hue, Kind, Link, NumberPart, Restart, Summary, TEXT_LIMIT},
    view::{Bucket, CardSize, CrossOrder, CrossShare, Fit, LineWeight, RowHeight},
};
use rust_decimal::Decimal;
use serde::Serialize;

/// Everything that can be said.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Vocabulary {
    /// Those that can be made by hand first, the most usual first in each group.
    pub kinds: Vec<KindWords>,
    pub periods: Vec<PeriodWords>,
    /// What a summary can figure.
    pub figures: Vec<FigureWords>,
    /// In an order in which neighbours differ.
    pub hues: Vec<Hue>,
    /// Whom a form is for, after *it is for*.
    pub audiences: Vec<Named<Audience>>,
    /// How far a right goes, after *may see*; the table's word for many is written as *…*.
    pub reaches: Vec<Named<Reach>>,
    /// What a role gives for tables of which it says nothing: as what one begins.
    pub bases: Vec<Named<Base>>,
    /// What a role may do with single fields.
    pub field_rights: Vec<Named<FieldRight>>,
    /// What sets an automation going, after *when a fault*; a form's title is written as *…*.
    pub occasions: Vec<Named<Occasion>>,
    /// What becomes of a name that no record has, after *what is not there*.
    pub unmatched: Vec<Named<Unmatched>>,
    /// What becomes of a value that does not fit another kind, after *what does not fit*.
    pub rests: Vec<Named<Rest>>,
    /// When a counter begins at 1 again, after *again from 1*.
    pub restarts: Vec<Named<Restart>>,
    /// What a mail consists of.
    pub mail_parts: Vec<Named<String>>,
    /// How days stand together in groups, after the field's name.
    pub buckets: Vec<Named<Bucket>>,
    /// How high rows are, after *rows of*.
    pub heights: Vec<Named<RowHeight>>,
    /// How a picture stands in its frame, after *pictures*.
    pub fits: Vec<Named<Fit>>,
    /// How large cards are, after *cards*.
    pub card_sizes: Vec<Named<CardSize>>,
    /// How cross-tabs stand on dashboards, after *as*.
    pub draws: Vec<Named<Draws>>,
    /// Of what the shares in a cross-tab are, after *shares*.
    pub cross_shares: Vec<Named<CrossShare>>,
    /// In which order the values of a cross-tab stand.
    pub cross_orders: Vec<Named<CrossOrder>>,
    /// How much lines between rows weigh, before *lines*.
    pub lines: Vec<Named<LineWeight>>,
}

/// One of a few, as it is written where one of them is chosen.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Named<T> {
    pub value: T,
    pub name: &'static str,
}

fn named<T>(all: impl IntoIterator<Item = T>, name: impl Fn(&T) -> &'static str) -> Vec<Named<T>> {
    all.into_iter().map(|value| Named { name: name(&value), value }).collect()
}

/// What can be said of fields of one kind.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct KindWords {
    /// The kind's word in the API.
    pub r#type: String,
    pub name: &'static str,
    /// What it holds, in a few words.
    pub what: &'static str,
    /// Under which it is offered; none: it is not made by hand.
    pub group: Option<&'static str>,
    /// As a new field begins; none: it is made on a page of its own.
    #[cfg_attr(feature = "openapi", schema(no_recursion))]
    pub begins: Option<Kind>,
    /// The ways in which it can be tested.
    pub checks: Vec<CheckWords>,
    /// How records stand by it: first to last, and the other way round.
    pub orders: [&'static str; 2],
    /// Whether forms can ask for it.
    pub asked: bool,
    /// Whether visitors of a shared page can fill it in.
    pub shared: bool,
    /// Whether a field of another kind, or a column of a sheet, can become one.
    pub becomes: bool,
}

/// A way in which a field can be tested.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct CheckWords {
    /// As it stands after the field; a gap is written as *…*.
    pub name: &'static str,
    /// The first check of this sort.
    pub begins: Check,
}

/// A run of days that has a name.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct PeriodWords {
    /// A number of days is written as *…*.
    pub name: String,
    pub begins: Period,
}

/// What a summary can figure.
#[derive(Clone, Debug, Serialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct FigureWords {
    pub figure: Figure,
    /// As it stands after *take*.
    pub name: &'static str,
    /// A word for it beside the figure: *sum*.
    pub word: &'static str,
    /// Whether it can stand under a view and at the head of a group.
    pub short: bool,
    /// The kinds of field that it is of, by their words in the API; none: it is of the records themselves.
    pub of: Vec<String>,
}

impl Vocabulary {
    /// All of it.
    pub fn new() -> Self {
        let kinds = kinds().into_iter().map(KindWords::of).collect();
        Self {
            kinds,
            periods: periods(),
            figures: Figure::ALL.map(FigureWords::of).into(),
            hues: Hue::ALL.to_vec(),
            audiences: named([Audience::Anyone, Audience::Team, Audience::Once], |audience| audience.words()),
            bases: named([Base::Own, Base::Reader, Base::Submitter, Base::Editor, Base::Builder, Base::Steward], |base| base.says()),
            reaches: named([Reach::None, Reach::All, Reach::Mine, Reach::Where(Condition::default())], reach_name),
            field_rights: named([FieldRight::Change, FieldRight::Read, FieldRight::Hidden], field_right_name),
            occasions: named(occasions(), |occasion| occasion.words()),
            unmatched: named([Unmatched::Create, Unmatched::Leave, Unmatched::Flag], unmatched_name),
            buckets: named(Bucket::ALL, |bucket| bucket.words()),
            heights: named([RowHeight::One, RowHeight::Two, RowHeight::Four, RowHeight::Eight], |height| height.words()),
            fits: named([Fit::Cropped, Fit::Whole, Fit::Strip], |fit| fit.words()),
            card_sizes: named([CardSize::Small, CardSize::Middle, CardSize::Large], |size| size.words()),
            draws: named(Draws::OF_FIGURES, |draws| draws.words()),
            cross_shares: named(CrossShare::ALL, |share| share.words()),
            cross_orders: named(CrossOrder::ALL, |order| order.words()),
            lines: named([LineWeight::None, LineWeight::Thin, LineWeight::Strong], |lines| lines.words()),
            rests: named([Rest::Create, Rest::Spare, Rest::Empty], rest_name),
            restarts: named([Restart::Never, Restart::Yearly, Restart::Monthly], restart_name),
            mail_parts: named(MAIL_PARTS.map(str::to_owned), |part| mail_part_name(part)),
        }
    }
}

/// What can set an automation going; what is named in it is still to be chosen.
fn occasions() -> [Occasion; 10] {
    let morning = Hour(7 * 60);
    [
        Occasion::Form(Some(FormId::FIRST)),
        Occasion::Form(None),
        Occasion::Added,
        Occasion::Changed(Vec::new()),
        Occasion::Fits,
        Occasion::Date { field: FieldId::FIRST, days: 0, at: morning, working: false },
        Occasion::Every { round: Round::Daily, at: morning },
        Occasion::Pressed,
        Occasion::Chosen,
        Occasion::Started,
    ]
}

impl Default for Vocabulary {
    fn default() -> Self {
        Self::new()
    }
}

/// Group, name, what it holds, an example of it.
type Entry = (Option<&'static str>, &'static str, &'static str, Kind);

fn kinds() -> Vec<Entry> {
    let (words, numbers, picking) = (Some("Words"), Some("Numbers and days"), Some("Picking"));
    let (others, more) = (Some("Other tables"), Some("And"));
    let any = FieldId::FIRST;
    let link = Kind::Link(Link { to: TableId::FIRST, back: any, one: true, holds: true });
    let shows = || Box::new(Kind::Number { decimals: 0, unit: String::new() });
    let summary = Summary { links: Vec::new(), figure: Figure::Count, field: None, condition: Default::default(), shows: shows() };
    let parts = vec![NumberPart::Fixed { text: "N-".into() }, NumberPart::Counter { digits: 4, restarts: Restart::Never }];
    vec![
        (words, "Text", "one line", Kind::Text { limit: TEXT_LIMIT }),
        (words, "Long text", "several lines", Kind::LongText),
        (words, "E-mail", "an address to write to", Kind::Email),
        (words, "Phone", "a number to call", Kind::Phone),
        (words, "Web address", "with a title", Kind::Web),
        (numbers, "Number", "with a unit", Kind::Number { decimals: 0, unit: String::new() }),
        (numbers, "Money", "in one currency", Kind::Money { currency: "GBP".into() }),
        (numbers, "Percent", "a share", Kind::Percent { decimals: 0 }),
        (numbers, "Rating", "from 1 to 5, say", Kind::Rating { most: 5 }),
        (numbers, "Date", "a day", Kind::Date),
        (numbers, "Date and time", "a moment", Kind::DateTime),
        (numbers, "Start–end range", "from one day to another", Kind::Range),
        (numbers, "Duration", "hours and minutes", Kind::Duration),
        (picking, "Choice", "one of several options", Kind::Choice { options: Vec::new(), on: None }),
        (picking, "Several choices", "any number of them", Kind::Choices { options: Vec::new() }),
        (picking, "Yes/no", "", Kind::YesNo),
        (picking, "Person", "somebody of the team", Kind::Person),
        (picking, "Several people", "", Kind::People),
        (others, "Link", "to records of a table", link),
        (others, "Carried value", "a linked record’s field, live", Kind::Carried { links: Vec::new(), field: any }),
        (others, "Summary", "a figure over linked records", Kind::Summary(summary)),
        (more, "Calculation", "by a formula", Kind::Calculation { formula: Formula::nothing(), shows: shows() }),
        (more, "Numbering", "FR-2026-0001 and on", Kind::Numbering { parts }),
        (more, "Lasting id", "the number by which a record is known for good", Kind::Id),
        (more, "Files", "pictures, PDF and others", Kind::Files),
        (more, "Checklist", "things to tick off", Kind::Checklist),
        (more, "Location", "a label with latitude and longitude", Kind::Place),
        (more, "Button", "pressed to run an automation", Kind::Button { label: String::new(), automation: None }),
        (more, "Structured data", "JSON", Kind::Json),
        (None, "Created at", "", Kind::CreatedAt),
        (None, "Created by", "", Kind::CreatedBy),
        (None, "Changed at", "", Kind::ChangedAt),
        (None, "Changed by", "", Kind::ChangedBy),
    ]
}

impl KindWords {
    fn of((group, name, what, kind): Entry) -> Self {
        // What is computed is written on a page of its own.
        let by_hand = group.is_some() && !kind.is_computed();
        Self {
            r#type: word(&kind),
            name,
            what,
            group,
            checks: checks(&kind),
            orders: orders(&kind),
            asked: AnswerKind::of(&kind).is_some(),
            shared: may_be_filled_in(&kind),
            becomes: by_hand && kind.takes_input() && !matches!(kind, Kind::Files),
            begins: by_hand.then_some(kind),
        }
    }
}

/// A kind's word in the API.
fn word(kind: &Kind) -> String {
    let json = serde_json::to_value(kind).unwrap_or_default();
    json["type"].as_str().unwrap_or_default().to_owned()
}

impl FigureWords {
    fn of(figure: Figure) -> Self {
        let of = match figure.shown(None) {
            Some(_) => Vec::new(),
            None => kinds().iter().filter(|entry| figure.shown(Some(&entry.3)).is_some()).map(|entry| word(&entry.3)).collect(),
        };
        Self { figure, name: figure.name(), word: figure.word(), short: figure.is_short(), of }
    }
}

fn reach_name(reach: &Reach) -> &'static str {
    match reach {
        Reach::None => "no …",
        Reach::All => "all …",
        Reach::Mine => "their own …",
        Reach::Where(_) => "… where …",
    }
}

fn field_right_name(right: &FieldRight) -> &'static str {
    match right {
        FieldRight::Change => "as the record",
        FieldRight::Read => "only read",
        FieldRight::Hidden => "hidden",
    }
}

fn unmatched_name(unmatched: &Unmatched) -> &'static str {
    match unmatched {
        Unmatched::Create => "is made",
        Unmatched::Leave => "is left empty",
        Unmatched::Flag => "is refused and listed",
    }
}

fn rest_name(rest: &Rest) -> &'static str {
    match rest {
        Rest::Create => "becomes a new record",
        Rest::Spare => "is kept in a text field beside it",
        Rest::Empty => "is left empty",
    }
}

fn restart_name(restart: &Restart) -> &'static str {
    match restart {
        Restart::Never => "never",
        Restart::Yearly => "every year",
        Restart::Monthly => "every month",
    }
}

fn mail_part_name(part: &str) -> &'static str {
    match part {
        "subject" => "the subject",
        "text" => "the text",
        "sender" => "the sender’s address",
        "name" => "the sender’s name",
        _ => "the attachments",
    }
}

/// How records stand by a field of this kind: first to last, and the other way round.
pub(crate) fn orders(kind: &Kind) -> [&'static str; 2] {
    match kind {
        Kind::Date | Kind::DateTime | Kind::CreatedAt | Kind::ChangedAt | Kind::Range => ["earliest first", "latest first"],
        Kind::Choice { .. } | Kind::Choices { .. } => ["in the order of its options", "last option first"],
        Kind::YesNo => ["no first", "yes first"],
        kind if kind.is_number() || matches!(kind, Kind::Id) => ["least first", "most first"],
        _ => ["from A to Z", "from Z to A"],
    }
}

/// Every way in which anything can be tested, in the order in which they are offered.
fn every_check() -> Vec<CheckWords> {
    let text = |name, how| (name, Check::Text { how, text: String::new() });
    let number = |name, how| (name, Check::Number { how, than: Decimal::ZERO });
    let day = |name, how| (name, Check::Day { how, than: When::Today(0) });
    let all = vec![
        text("contains", TextMatch::Contains),
        text("does not contain", TextMatch::Lacks),
        text("is", TextMatch::Is),
        text("is not", TextMatch::IsNot),
        text("starts with", TextMatch::Starts),
        number("is", Comparison::Is),
        number("is not", Comparison::IsNot),
        number("is under", Comparison::Under),
        number("is at most", Comparison::AtMost),
        number("is over", Comparison::Over),
        number("is at least", Comparison::AtLeast),
        ("is from … to", Check::Between { least: Decimal::ZERO, most: Decimal::ZERO }),
        ("is within", Check::Within { period: Period::ThisWeek }),
        ("is more than … days ago", Check::Older { days: 30 }),
        day("is on", Comparison::Is),
        day("is not on", Comparison::IsNot),
        day("is before", Comparison::Under),
        day("is on or before", Comparison::AtMost),
        day("is after", Comparison::Over),
        day("is on or after", Comparison::AtLeast),
        ("is yes", Check::Yes),
        ("is no or empty", Check::No),
        ("is any of", Check::Option { not: false, any: Vec::new() }),
        ("is none of", Check::Option { not: true, any: Vec::new() }),
        ("is any of", Check::Person { not: false, any: Vec::new() }),
        ("is none of", Check::Person { not: true, any: Vec::new() }),
        ("is any of", Check::Record { not: false, any: Vec::new() }),
        ("is none of", Check::Record { not: true, any: Vec::new() }),
        ("is my record", Check::MyRecord { not: false }),
        ("is not my record", Check::MyRecord { not: true }),
        ("is my address", Check::MyAddress { not: false }),
        ("is not my address", Check::MyAddress { not: true }),
        ("is filled in", Check::Filled),
        ("is empty", Check::Empty),
        ("is an error", Check::Error),
        ("is not what it was copied from", Check::Differs),
    ];
    all.into_iter().map(|(name, begins)| CheckWords { name, begins }).collect()
}

fn checks(kind: &Kind) -> Vec<CheckWords> {
    // Only what is computed can be an error, and is tested by what it shows.
    every_check().into_iter().filter(|way| way.begins.fits(kind) && (way.begins != Check::Error || kind.is_computed())).collect()
}

fn periods() -> Vec<PeriodWords> {
    let named = [
        Period::Today,
        Period::Yesterday,
        Period::Tomorrow,
        Period::ThisWeek,
        Period::LastWeek,
        Period::NextWeek,
        Period::ThisMonth,
        Period::LastMonth,
        Period::NextMonth,
        Period::ThisQuarter,
        Period::LastQuarter,
        Period::ThisYear,
        Period::LastYear,
    ];
    let counted = [("the last … days", Period::LastDays(7)), ("the next … days", Period::NextDays(7))];
    let named = named.into_iter().map(|period| PeriodWords { name: period.words(), begins: period });
    named.chain(counted.into_iter().map(|(name, begins)| PeriodWords { name: name.to_owned(), begins })).collect()
}
