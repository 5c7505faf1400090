//! Guessing what the columns of a sheet are. A guess says how sure it is and what would not fit; what can be read two
//! ways is asked.

use super::{
    Becomes, ColumnPlan, ColumnReader, DateOrder, Heading, ImportInto, Plan, Raw, Sheet, Unmatched,
    beside::{RowBeside, is_beside, rows_beside},
    column::{Seen, Verdict, comma_says, text},
    heading::{Name, heading_of, names_of},
};
use crate::{
    access::Lens,
    schema::{Kind, TableNames, within_sentence},
    value::{Customs, fold},
};
use serde::{Deserialize, Serialize};
use std::collections::{BTreeMap, HashMap, HashSet};

/// Cells of a column that are looked at for a guess.
const SAMPLE: usize = 5_000;
/// What people write where there is nothing.
const NOTHING: [&str; 11] = ["n/a", "na", "n.a.", "none", "nil", "unknown", "tbc", "tba", "tbd", "?", "k.a."];
/// Cells that are tried first, where trying costs.
const FEW: usize = 40;
/// Most cells that do not fit that are named.
const NAMED: usize = 5;

/// What a sheet seems to be.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct SheetGuess {
    pub plan: Plan,
    pub columns: Vec<ColumnGuess>,
    /// Rows under the heading that become records.
    pub rows: usize,
    /// Rows under the heading that look like no records, and are left out.
    pub beside: Vec<RowBeside>,
    /// What is to be known of how it was read, in sentences.
    pub says: Vec<String>,
}

/// What a column seems to be.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct ColumnGuess {
    pub column: usize,
    /// How many of its cells hold something, how many of these differ, and which do not fit, in a sentence.
    pub counted: String,
    /// Of the cells looked at, the share that fits, in hundredths.
    pub sure: u8,
    pub samples: Vec<String>,
    /// Its dates can be read with the day first and with the month first: which it is must be said.
    pub asks_order: bool,
    /// It repeats a few values, so that it could be a choice or a table of its own.
    pub repeats: bool,
    /// What that table would be called.
    pub own: TableNames,
    /// Some of its cells are texts, so that it is to be said how dates and decimals stand in them.
    pub written: bool,
    /// What is to be known of how it was taken, in sentences.
    pub says: Vec<String>,
}

/// A cell that does not fit what its column seems to be.
struct OddCell {
    /// From 1, as in the file.
    row: usize,
    text: String,
}

/// *1,204 filled, 37 different; 2% do not fit: “abt. 3” in row 17.*
fn counted(filled: usize, different: usize, sure: u8, unfit: &[OddCell], customs: Customs) -> String {
    let figure = |number: usize| customs.count_text(number);
    let words = format!("{} filled, {} different", figure(filled), figure(different));
    if sure == 100 {
        return words;
    }
    let named: Vec<String> = unfit.iter().take(NAMED).map(|odd| format!("“{}” in row {}", odd.text, odd.row)).collect();
    format!("{words}; {}% do not fit: {}", 100 - sure, named.join(", "))
}

impl Lens<'_> {
    /// What a sheet seems to be. `heading`: where the names stand, where that is known.
    pub fn guess(&self, sheet: &Sheet, name: &str, heading: Option<Heading>, into: Option<ImportInto>) -> SheetGuess {
        let heading = heading.unwrap_or_else(|| heading_of(sheet));
        let beside = rows_beside(sheet, heading);
        let into = into.unwrap_or_else(|| ImportInto::New { one: singular(name), name: name.to_owned() });
        let mut plan = Plan { heading, into, columns: Vec::new(), without: beside.iter().map(|row| row.row).collect() };
        let rows = plan.records(sheet);
        let holds = |column: &usize| {
            rows.iter().any(|row| !sheet.cell(*row, *column).is_empty())
                || (heading.first..heading.end()).any(|row| !sheet.cell(row, *column).is_empty())
        };
        let columns: Vec<usize> = (0..sheet.width()).filter(holds).collect();
        let names = names_of(sheet, heading, &columns);
        let mut says: Vec<String> = sheet.broken.iter().map(|broken| broken.why.clone()).collect();
        says.extend(super::heading::says(sheet, heading, &names));
        says.extend(colours(sheet, &rows));
        let look = Looking { sheet, heading, rows: &rows, decimal_comma: decimals_of(sheet, &rows, &columns) };
        let guessed: Vec<(ColumnPlan, ColumnGuess)> =
            columns.iter().zip(names).map(|(column, name)| self.guess_column(&look, *column, name)).collect();
        let (plans, guesses): (Vec<ColumnPlan>, Vec<ColumnGuess>) = guessed.into_iter().unzip();
        plan.columns = plans;
        if let ImportInto::Table { table, .. } = plan.into {
            self.match_fields(table, &mut plan.columns);
        }
        SheetGuess { plan, columns: guesses, rows: rows.len(), beside, says }
    }

    /// Columns that are called like a field of the table go into it.
    fn match_fields(&self, table: crate::id::TableId, plans: &mut [ColumnPlan]) {
        let Some(home) = self.dataset().table(table) else { return };
        for plan in plans {
            let fits = |f: &&crate::schema::FieldDef| fold(&f.name) == fold(&plan.name) && f.kind.takes_input() && self.writes(table, f.id);
            if let Some(field) = home.def.fields.iter().find(fits) {
                plan.becomes = Becomes::Existing { field: field.id, unmatched: Unmatched::Flag };
            } else if home.def.fields.iter().any(|f| fold(&f.name) == fold(&plan.name)) {
                plan.becomes = Becomes::Nothing;
            }
        }
    }

    fn guess_column(&self, look: &Looking<'_>, column: usize, name: Name) -> (ColumnPlan, ColumnGuess) {
        let Looking { sheet, rows, .. } = look;
        let filled: Vec<usize> = rows.iter().copied().filter(|r| !sheet.cell(*r, column).is_empty()).collect();
        let step = (filled.len() / SAMPLE).max(1);
        let sample: Vec<(usize, &Raw)> = filled.iter().step_by(step).map(|r| (*r, sheet.cell(*r, column))).collect();
        // What says that there is nothing is no measure of what there is.
        let says_nothing =
            |raw: &Raw| matches!(raw, Raw::Error(_)) || matches!(raw, Raw::Text(text) if NOTHING.contains(&&*fold(text.trim())));
        let (errors, good): (Vec<_>, Vec<_>) = sample.iter().copied().partition(|(_, raw)| says_nothing(raw));
        let (errors, good) = if good.is_empty() { (good, errors) } else { (errors, good) };
        let mut words: HashMap<String, usize> = HashMap::new();
        for (_, raw) in &good {
            *words.entry(raw.words()).or_default() += 1;
        }
        let here = self.dataset().tracker.locale;
        let mut plan =
            ColumnPlan { decimal_comma: look.decimal_comma.unwrap_or(here.decimal_comma), ..ColumnPlan::new(column, &name.name) };
        let shown = sheet.shown.get(column).cloned().flatten().unwrap_or_default();
        let seen = Seen { sample: &good, words: &words, plan: &plan, shown: &shown, decimal_comma: look.decimal_comma };
        let verdict = self.verdict(&seen);
        plan.becomes = verdict.becomes;
        plan.dates = verdict.dates;
        plan.decimal_comma = verdict.decimal_comma.unwrap_or(plan.decimal_comma);
        plan.separator = verdict.separator;
        let mut unfit = self.unfit(&plan, sheet, &good);
        unfit.extend(self.unfit(&plan, sheet, &errors));
        let few = words.len() * 3 <= sample.len() && words.len() <= 60 && words.keys().all(|w| w.chars().count() <= 60);
        let mut says: Vec<String> = name.says.into_iter().chain(verdict.says).collect();
        says.extend(match shown.rounded {
            0 => None,
            1 => Some("One of its numbers was computed with more decimals than the file shows, and is taken as shown.".to_owned()),
            n => Some(format!("{n} of its numbers were computed with more decimals than the file shows, and are taken as shown.")),
        });
        if name.unnamed && look.heading.rows > 0 && is_beside(sheet, look.heading, column, filled.len(), rows.len()) {
            plan.becomes = Becomes::Nothing;
            says = vec!["It has no name and holds little: it looks like notes beside the table, and is left out.".into()];
        }
        let sure = u8::try_from(100 - 100 * unfit.len() / sample.len().max(1)).unwrap_or(0);
        let guess = ColumnGuess {
            column,
            counted: counted(filled.len(), words.len(), sure, &unfit, self.clock().customs()),
            sure,
            samples: sample.iter().take(4).map(|(_, raw)| raw.words()).collect(),
            asks_order: verdict.asks_order,
            written: good.iter().any(|(_, raw)| matches!(raw, Raw::Text(_))),
            own: TableNames::of(&name.name),
            repeats: few && words.len() > 1 && words.keys().any(|w| w.chars().any(char::is_alphabetic)),
            says,
        };
        (plan, guess)
    }

    /// The cells of a sample that would not fit.
    fn unfit(&self, plan: &ColumnPlan, sheet: &Sheet, sample: &[(usize, &Raw)]) -> Vec<OddCell> {
        self.unread(plan, sample).into_iter().map(|(row, raw)| OddCell { row: sheet.line(row), text: raw.words() }).collect()
    }

    fn unread<'s>(&self, plan: &ColumnPlan, sample: &[(usize, &'s Raw)]) -> Vec<(usize, &'s Raw)> {
        let Becomes::Field { kind } = &plan.becomes else { return Vec::new() };
        if matches!(kind, Kind::Choice { .. } | Kind::Choices { .. }) {
            return Vec::new();
        }
        let reader = ColumnReader::new(plan, self.dataset().tracker.locale, &self.dataset().people, self.clock());
        sample.iter().copied().filter(|(_, raw)| reader.value(raw, kind).is_err()).collect()
    }

    fn verdict(&self, seen: &Seen<'_>) -> Verdict {
        let country = self.dataset().tracker.locale.country;
        if seen.sample.is_empty() {
            return Verdict::of(text());
        }
        if let Some(verdict) = seen.typed() {
            return verdict;
        }
        if let Some(verdict) = self.days_in_digits(seen).or_else(|| seen.phone(country)) {
            return verdict;
        }
        if seen.keeps_zeros() {
            return Verdict::of(text());
        }
        seen.yes_no()
            .or_else(|| seen.number(country))
            .or_else(|| self.dates(seen))
            .or_else(|| seen.clock_times())
            .or_else(|| self.simple(seen))
            .or_else(|| self.links(seen))
            .or_else(|| seen.choices())
            .unwrap_or_else(|| Verdict::of(if seen.is_long() { Kind::LongText } else { text() }))
    }

    /// Days in eight digits, where the heading says that they are days.
    fn days_in_digits(&self, seen: &Seen<'_>) -> Option<Verdict> {
        let digits = |(_, raw): &(usize, &Raw)| {
            let words = raw.words();
            words.trim().len() == 8 && words.trim().bytes().all(|b| b.is_ascii_digit())
        };
        if !seen.is_called_a_day() || !seen.sample.iter().all(digits) {
            return None;
        }
        let plan = ColumnPlan { becomes: Becomes::Field { kind: Kind::Date }, ..seen.plan.clone() };
        self.unread(&plan, seen.sample).is_empty().then(|| Verdict::of(Kind::Date))
    }

    /// Dates as text: in three orders, of which two can look the same. The column as a whole tells which it is.
    fn dates(&self, seen: &Seen<'_>) -> Option<Verdict> {
        let looks = |raw: &&(usize, &Raw)| match &raw.1 {
            Raw::Text(t) => t.len() <= 60 && t.chars().filter(char::is_ascii_digit).count() >= 3,
            Raw::Date(_) | Raw::DateTime(_) => true,
            _ => false,
        };
        if seen.sample.iter().filter(looks).count() * 10 < seen.sample.len() * 9 {
            return None;
        }
        for kind in [Kind::Date, Kind::DateTime, Kind::Range] {
            let read_of = |order: DateOrder, sample: &[(usize, &Raw)]| {
                let becomes = Becomes::Field { kind: kind.clone() };
                let plan = ColumnPlan { dates: Some(order), becomes, ..seen.plan.clone() };
                sample.len() - self.unread(&plan, sample).len()
            };
            // A few say whether it is worth reading all of them.
            let few = &seen.sample[..seen.sample.len().min(FEW)];
            if [DateOrder::Day, DateOrder::Month, DateOrder::Year].iter().all(|order| read_of(*order, few) * 2 < few.len()) {
                continue;
            }
            let read = |order: DateOrder| read_of(order, seen.sample);
            let orders = [DateOrder::Day, DateOrder::Month, DateOrder::Year].map(|order| (order, read(order)));
            let most = orders.iter().map(|(_, count)| *count).max().unwrap_or(0);
            if most * 10 < seen.sample.len() * 9 {
                continue;
            }
            let best: Vec<DateOrder> = orders.iter().filter(|(_, count)| *count == most).map(|(order, _)| *order).collect();
            // With a year of four digits before it or the month's name in it, all readings are the same one.
            let plain = seen.sample.iter().any(|(_, raw)| super::is_in_numbers(&raw.words()));
            let short = seen.sample.iter().any(|(_, raw)| super::has_short_year(&raw.words()));
            // A year of two digits may stand first; one of four is known wherever it stands.
            // Between strokes or points it hardly ever does.
            let hyphens = seen.sample.iter().any(|(_, raw)| super::is_in_numbers(&raw.words()) && raw.words().contains('-'));
            let others = best.len() > 1 && !hyphens || !short;
            let best: Vec<DateOrder> = best.into_iter().filter(|order| !others || *order != DateOrder::Year).collect();
            let asks_order = plain && best.len() > 1;
            let says = short.then(|| "Its years are written with two digits.".to_owned());
            let dates = best.first().copied().filter(|_| plain && !asks_order);
            return Some(Verdict { dates, asks_order, says, ..Verdict::of(kind) });
        }
        None
    }

    /// Kinds that can be told by trying them.
    fn simple(&self, seen: &Seen<'_>) -> Option<Verdict> {
        let all = |fits: fn(&str) -> bool| seen.all(fits);
        let kinds = [
            (Kind::Email, all(|t| crate::checks::check_mail(t).is_ok())),
            (Kind::Web, all(|t| t.contains("://"))),
            (Kind::Duration, all(|t| t.contains([':', 'h', 'm']) && t.starts_with(|c: char| c.is_ascii_digit()))),
            (Kind::Place, all(|t| t.ends_with(')') && t.contains('('))),
            (Kind::Person, true),
        ];
        let fits = |kind: &Kind| {
            let plan = ColumnPlan { becomes: Becomes::Field { kind: kind.clone() }, ..seen.plan.clone() };
            let few = &seen.sample[..seen.sample.len().min(FEW)];
            self.unread(&plan, few).len() * 2 <= few.len() && self.unread(&plan, seen.sample).len() * 10 <= seen.sample.len()
        };
        kinds.into_iter().find(|(kind, may)| *may && fits(kind)).map(|(kind, _)| Verdict::of(kind))
    }

    /// A column whose values are the names of records that are there.
    fn links(&self, seen: &Seen<'_>) -> Option<Verdict> {
        let best = self.propose_for(seen.words.keys().map(String::as_str), None).into_iter().next()?;
        // What records are called by is what files name them by; in another field the same words may stand by chance.
        let standing = self.dataset().table(best.to).is_some_and(|home| home.def.standing == best.by);
        if best.matched * 10 < best.of * if standing { 6 } else { 9 } {
            return None;
        }
        let back = String::new();
        let becomes = Becomes::Link { to: best.to, by: best.by, one: best.separator.is_none(), back, unmatched: Unmatched::Flag };
        Some(Verdict { becomes, separator: best.separator, ..Verdict::of(text()) })
    }
}

/// What all columns are looked at with.
struct Looking<'a> {
    sheet: &'a Sheet,
    heading: Heading,
    rows: &'a [usize],
    decimal_comma: Option<bool>,
}

/// Colours that mean something are not brought in; that is said, since whoever kept the file reads them.
fn colours(sheet: &Sheet, rows: &[usize]) -> Option<String> {
    let known: HashSet<usize> = rows.iter().copied().collect();
    let mut by_colour: BTreeMap<&str, Vec<usize>> = BTreeMap::new();
    for (row, colour) in sheet.coloured.iter().filter(|(row, _)| known.contains(row)) {
        by_colour.entry(colour).or_default().push(sheet.line(*row));
    }
    // Where nearly every row is coloured it is an ornament.
    let coloured: usize = by_colour.values().map(Vec::len).sum();
    if coloured == 0 || coloured * 4 > rows.len() * 3 || by_colour.len() > 6 {
        return None;
    }
    let told = by_colour.iter().map(|(colour, lines)| {
        let first: Vec<String> = lines.iter().take(3).map(usize::to_string).collect();
        let rows = if lines.len() == 1 { "row" } else { "rows" };
        let more = if lines.len() > 3 { format!(" and {} more", lines.len() - 3) } else { String::new() };
        format!("{colour} in {rows} {}{more}", first.join(", "))
    });
    Some(format!(
        "Cells are coloured: {}. Colours are not brought in: if they mean something, write it into a column of its own first.",
        told.collect::<Vec<_>>().join("; ")
    ))
}

/// What the numbers of a sheet that speak clearly say of their decimals; none where they say nothing, or not the same.
fn decimals_of(sheet: &Sheet, rows: &[usize], columns: &[usize]) -> Option<bool> {
    if sheet.decimal_comma.is_some() {
        return sheet.decimal_comma;
    }
    let texts = rows.iter().take(200).flat_map(|row| columns.iter().map(|column| sheet.cell(*row, *column)));
    let numeric = |t: &&str| {
        t.contains([',', '.']) && t.chars().all(|c| c.is_ascii_digit() || ",.-+ ".contains(c)) && t.contains(|c: char| c.is_ascii_digit())
    };
    let says = texts.filter_map(|raw| if let Raw::Text(text) = raw { Some(text.trim()) } else { None }).filter(numeric);
    let mut said = says.filter(|t| !super::heading::looks_like_a_day(t)).filter_map(comma_says);
    let first = said.next()?;
    said.all(|comma| comma == first).then_some(first)
}

/// The name of one of many, as far as it can be told: *Work orders* gives *work order*.
pub fn singular(name: &str) -> String {
    let name = within_sentence(name.trim());
    if let Some(stem) = name.strip_suffix("ies") {
        return format!("{stem}y");
    }
    for ending in ["sses", "xes", "ches", "shes"] {
        if name.ends_with(ending) {
            return name[..name.len() - 2].to_owned();
        }
    }
    match name.strip_suffix('s') {
        Some(stem) if !stem.ends_with('s') && stem.len() > 2 => stem.to_owned(),
        _ => name,
    }
}
