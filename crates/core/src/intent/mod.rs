//! The one way in: every change of data or structure is an intent. It is checked against the dataset and against who
//! asks, and becomes a change or faults; nothing in between.

mod answer;
mod automate;
mod bin;
mod block;
mod bulk;
mod cells;
mod convert;
mod draft;
mod duplicate;
mod fields;
mod gate;
mod hand_over;
mod import;
mod imported;
mod merge;
mod order;
mod rows;
mod shape;
mod sketch;
mod structure;
mod tables;
mod talk;
mod undo;
mod whole;

pub use answer::Drafted;
pub(crate) use answer::candidates;
pub use block::{Block, BlockRehearsal, MOST_CELLS, WrongCell};
pub use convert::{BeforeAfter, ChangeOfKind, KindRehearsal, LinkProposal, Rest, Target, Unfit};
pub(crate) use convert::{Called, split};
pub use fields::{FieldChange, OtherSide};
use gate::{Breach, Landing};
pub use hand_over::{HandOver, Held, Holding};
pub use import::Import;
pub use imported::{ImportRehearsal, Making, Rejected};
pub use order::OrderStep;
pub(crate) use sketch::Sketched;
pub use tables::{NewTable, TableChange};
pub use whole::{MOST_NEW_LINES, NewLine, NewRecord};

use crate::{
    Clock,
    access::{Asker, Lens, Right},
    automation::{Replied, Waiting},
    bulk::{Bulk, Duplicate},
    dataset::{Dataset, Table},
    fault::{Checked, Fault, FaultKind, Faults},
    form::{Answer, Arrival},
    history::{Change, Op},
    id::{AutomationId, FieldId, FormId, HighlightId, PersonId, RecordId, TableId, ViewId},
    merge::Merge,
    pack::Pack,
    part::Part,
    people::Actor,
    schema::{Kind, NumberPart, Preset, Restart},
    talk::TalkStep,
    value::Input,
    value::Value,
    view::Spot,
};
use jiff::tz::TimeZone;

/// Most faults that are told of one intent.
const FAULTS_TOLD: usize = 100;
/// Most records that one intent adds.
pub const ADD_LIMIT: usize = 250_000;

/// What somebody wants done.
#[derive(Clone, Debug)]
pub enum Intent {
    /// New records, each with the values of some fields.
    Add {
        table: TableId,
        records: Vec<Vec<(FieldId, Input)>>,
    },
    /// A new record with its lines, as one step.
    AddWhole(Box<NewRecord>),
    /// A new record that somebody goes on to fill in, cell by cell.
    Begin {
        table: TableId,
        cells: Vec<(FieldId, Input)>,
    },
    /// Many records, each by what stands in it, as one step.
    Bulk(Box<Bulk>),
    /// Records made again, with what goes along, as one step.
    Duplicate(Box<Duplicate>),
    /// Two records made one.
    Merge(Box<Merge>),
    /// Back from the bin.
    BringBack {
        table: TableId,
        records: Vec<RecordId>,
    },
    /// Out of the bin, for good.
    EmptyOut {
        records: Vec<(TableId, RecordId)>,
    },
    /// Somebody says something about a record.
    Talk {
        table: TableId,
        record: RecordId,
        step: TalkStep,
    },
    /// Whoever began a record, or filled it in, has gone on.
    Leave {
        table: TableId,
        record: RecordId,
    },
    Edit {
        table: TableId,
        record: RecordId,
        edits: Vec<Edit>,
    },
    /// The same into several records, as one step.
    EditSeveral {
        table: TableId,
        records: Vec<RecordId>,
        edits: Vec<Edit>,
    },
    /// A block of cells, over records that are there and as new ones.
    Block(Box<Block>),
    /// To the bin.
    Remove {
        table: TableId,
        records: Vec<RecordId>,
    },
    /// An answer to a form.
    Send {
        form: FormId,
        answer: Answer,
    },
    /// Somebody who follows their answer changes what they still may.
    Amend {
        form: FormId,
        record: RecordId,
        answers: Vec<(FieldId, Input)>,
    },
    /// Presses a button of a record.
    Press {
        table: TableId,
        record: RecordId,
        field: FieldId,
    },
    /// A new part of the structure; its number is given here, whatever it says.
    Make(Part),
    /// Another state of a part that exists.
    Save(Part),
    /// Takes a part away.
    Drop(Part),
    /// Puts a highlight at another place among those of its table, from 0.
    MoveHighlight {
        highlight: HighlightId,
        to: usize,
    },
    /// Puts a view at another place among those of its table that are the team's, or among one's own, from 0.
    MoveView {
        view: ViewId,
        to: usize,
    },
    /// Puts records somewhere in a view's own order.
    Order {
        view: ViewId,
        step: OrderStep,
    },
    /// Puts lines elsewhere among those that stand under the same record, by the link under which they stand.
    PlaceLines {
        field: FieldId,
        lines: Vec<RecordId>,
        spot: Spot,
    },
    /// Parts that name each other, made together; their numbers must be free.
    Build(Vec<Part>),
    /// Makes, changes or removes a whole table.
    Table(TableChange),
    /// Changes a field of a table, or its place.
    Fields {
        table: TableId,
        change: FieldChange,
    },
    /// Makes a field of another kind, with its values.
    ChangeKind(ChangeOfKind),
    /// A whole tracker, into an empty one; `by`: who begins it, where that is somebody.
    Unpack {
        pack: Box<Pack>,
        by: Option<PersonId>,
    },
    /// Hands over what hangs on somebody who leaves. Asked by Westerfall, for an owner of the team.
    HandOver(HandOver),
    /// A whole sheet.
    Import(Box<Import>),
    /// Runs an automation on records that somebody chose.
    Run {
        automation: AutomationId,
        records: Vec<RecordId>,
    },
    /// Whoever got a message answers it.
    Reply(Box<Replied>),
    /// A time of an automation comes.
    Come {
        automation: AutomationId,
    },
    /// A run that waited goes on, if it has waited long enough or for what now holds.
    GoOn(Box<Waiting>),
    /// Time has passed: the tracker's day ends.
    Turn,
    /// Takes a change back. `shared`: the log knows that somebody else has touched records that it made.
    Undo {
        change: Box<Change>,
        shared: bool,
    },
}

/// Most records that are changed by hand at once.
const MOST_AT_ONCE: usize = 10_000;

/// Most records that are told as refused at once.
const REFUSED: usize = 100;

/// Most records of what is decided in a moment.
const LIGHT: usize = 20;

impl Intent {
    /// Whether it is decided and done in a moment, however large the tracker is.
    pub fn is_light(&self) -> bool {
        match self {
            Intent::Add { records, .. } => records.len() <= LIGHT,
            Intent::AddWhole(new) => new.lines.len() <= LIGHT,
            Intent::Remove { records, .. } | Intent::EditSeveral { records, .. } => records.len() <= LIGHT,
            Intent::Block(block) => block.cells.iter().map(Vec::len).sum::<usize>() <= LIGHT,
            Intent::Begin { .. }
            | Intent::Leave { .. }
            | Intent::Talk { .. }
            | Intent::Edit { .. }
            | Intent::Send { .. }
            | Intent::Amend { .. }
            | Intent::GoOn(_)
            | Intent::Reply(_)
            | Intent::Press { .. } => true,
            Intent::MoveHighlight { .. } | Intent::MoveView { .. } => true,
            Intent::Order { step, .. } => matches!(step, OrderStep::Place { records, .. } if records.len() <= LIGHT),
            Intent::PlaceLines { lines, .. } => lines.len() <= LIGHT,
            Intent::Make(part) | Intent::Save(part) | Intent::Drop(part) => !matches!(part, Part::Table(_) | Part::Tracker(_)),
            Intent::Build(_)
            | Intent::Bulk(_)
            | Intent::Duplicate(_)
            | Intent::Merge(_)
            | Intent::BringBack { .. }
            | Intent::EmptyOut { .. }
            | Intent::Table(_)
            | Intent::Fields { .. }
            | Intent::ChangeKind(_)
            | Intent::Unpack { .. }
            | Intent::HandOver(_)
            | Intent::Import(_)
            | Intent::Run { .. }
            | Intent::Come { .. }
            | Intent::Turn
            | Intent::Undo { .. } => false,
        }
    }
}

/// A new value for a cell.
#[derive(Clone, Debug)]
pub struct Edit {
    pub field: FieldId,
    pub input: Input,
    /// What stood there when the sender looked. If something else stands there now, it is a clash.
    pub was: Option<Value>,
}

/// A change that may be committed, and what the sender is told.
#[derive(Clone, Debug)]
pub struct Decision {
    pub change: Change,
    /// The records that were added.
    pub added: Vec<RecordId>,
    /// The number of the part that was made.
    pub made: Option<u32>,
}

impl Dataset {
    /// Checks an intent and says what it would change. Nothing is changed by this.
    ///
    /// # Errors
    /// All faults that the sender can mend at once, each with its place in what was sent.
    pub fn decide(&self, intent: &Intent, asker: Asker, clock: &Clock) -> Checked<Decision> {
        self.at_rest(intent, asker)?;
        let decider = Decider::new(self, asker, clock);
        let mut added = Vec::new();
        let mut made = None;
        let (mut undoes, mut again) = (None, false);
        // An import asks the gate row by row, and leaves what can't be laid to a row.
        let mut breaches = None;
        let mut adds_to: Vec<TableId> = match intent {
            Intent::Add { table, .. } | Intent::Begin { table, .. } => vec![*table],
            _ => Vec::new(),
        };
        let ops = match intent {
            Intent::Add { table, records } => {
                let ops = decider.add(*table, records)?;
                added.extend(ops.iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record).map(|(_, r)| r));
                ops
            }
            Intent::AddWhole(new) => {
                let ops = decider.add_whole(new)?;
                added.extend(ops.first().and_then(Op::record).map(|(_, record)| record));
                adds_to = decider.lines_at(new)?.into_iter().map(|(table, _)| table).chain([new.table]).collect();
                adds_to.sort_unstable();
                adds_to.dedup();
                ops
            }
            Intent::Begin { table, cells } => {
                let ops = decider.begin(*table, cells)?;
                added.extend(ops.iter().filter(|op| matches!(op, Op::Add { .. })).filter_map(Op::record).map(|(_, r)| r));
                ops
            }
            Intent::Bulk(bulk) => decider.bulk(bulk)?,
            Intent::Duplicate(duplicate) => {
                let ops = decider.make_again(duplicate)?;
                let made = |op: &&Op| matches!(op, Op::Add { table, .. } if *table == duplicate.table);
                added.extend(ops.iter().filter(made).filter_map(Op::record).map(|(_, r)| r));
                adds_to = vec![duplicate.table];
                ops
            }
            Intent::Merge(merge) => decider.make_one(merge)?,
            Intent::BringBack { table, records } => decider.bring_back(*table, records)?,
            Intent::EmptyOut { records } => decider.empty_out(records)?,
            Intent::Talk { table, record, step } => decider.talk(*table, *record, step)?,
            Intent::Leave { table, record } => decider.leave(*table, *record)?,
            Intent::Edit { table, record, edits } => decider.edit(*table, *record, edits)?,
            Intent::EditSeveral { table, records, edits } => decider.edit_several(*table, records, edits)?,
            Intent::Block(block) => {
                let ops = decider.block(block)?;
                added.extend(
                    ops.iter()
                        .filter(|op| matches!(op, Op::Add { table, .. } if *table == block.table))
                        .filter_map(Op::record)
                        .map(|(_, r)| r),
                );
                adds_to = if added.is_empty() { Vec::new() } else { vec![block.table] };
                ops
            }
            Intent::Remove { table, records } => decider.remove(*table, records)?,
            Intent::Send { form, answer } => {
                let (ops, record) = decider.send(*form, answer)?;
                added.push(record);
                ops
            }
            Intent::Amend { form, record, answers } => decider.amend(*form, *record, answers)?,
            Intent::Make(part) => {
                let part = part.clone().numbered(self.next_id());
                made = Some(part.key().1);
                vec![decider.put(None, Some(decider.tidied(part)?))?]
            }
            Intent::Save(part) => vec![decider.put(Some(decider.current(part)?), Some(decider.tidied(part.clone())?))?],
            Intent::Press { table, record, field } => vec![decider.press(*table, *record, *field)?],
            Intent::Drop(part) => decider.drop_part(part)?,
            Intent::MoveHighlight { highlight, to } => decider.move_highlight(*highlight, *to)?,
            Intent::MoveView { view, to } => decider.move_view(*view, *to)?,
            Intent::Order { view, step } => decider.order(*view, step)?,
            Intent::PlaceLines { field, lines, spot } => decider.place_lines(*field, lines, *spot)?,
            Intent::Build(parts) => decider.build(parts)?,
            Intent::Fields { table, change } => {
                let (ops, number) = decider.fields(*table, change)?;
                made = number;
                ops
            }
            Intent::ChangeKind(change) => decider.change_kind(change)?.ops,
            Intent::Unpack { pack, .. } => {
                if asker != Asker::Westerfall || self.tables().next().is_some() {
                    return Err(Fault::new(FaultKind::NotAllowed, "Only a new tracker can be begun like this.").into());
                }
                let ops = pack.ops(self)?;
                let parts: Vec<Op> = ops.iter().filter(|op| matches!(op, Op::Put { .. })).cloned().collect();
                decider.stands_after(&parts)?;
                ops
            }
            Intent::HandOver(hand) => {
                if asker != Asker::Westerfall {
                    return Err(Fault::new(FaultKind::NotAllowed, "What hangs on somebody is handed over by the team’s owners.").into());
                }
                decider.hand_over(hand)?
            }
            Intent::Import(import) => {
                let imported = decider.import(import)?;
                made = Some(imported.table.get());
                adds_to = vec![imported.table];
                breaches = Some(imported.breaches);
                imported.ops
            }
            Intent::Table(change) => {
                let (ops, number) = decider.tables(change)?;
                made = number;
                ops
            }
            Intent::Run { automation, records } => vec![decider.run_by_hand(*automation, records)?],
            Intent::Come { automation } => decider.come(*automation)?,
            Intent::GoOn(waiting) => decider.go_on(waiting)?,
            Intent::Reply(replied) => decider.reply(replied)?,
            Intent::Turn => {
                if asker != Asker::Westerfall {
                    return Err(Fault::new(FaultKind::NotAllowed, "Time passes by itself.").into());
                }
                let turned = Op::Turned { from: self.turned(), to: clock.today() };
                if self.turns_to(clock.now) { vec![turned] } else { Vec::new() }
            }
            Intent::Undo { change, shared } => {
                undoes = Some(change.seq);
                again = change.undoes.is_some() && !change.again;
                decider.undo(change, *shared)?
            }
        };
        let who = match (asker, intent) {
            (_, Intent::Unpack { by: Some(person), .. }) => Actor::Person(*person),
            (_, Intent::HandOver(hand)) => Actor::Person(hand.by),
            (_, Intent::Reply(replied)) => replied.asked.actor(),
            (Asker::Person(person), _) => Actor::Person(person),
            (Asker::StandingIn { .. }, _) => {
                let message = "You are standing in for somebody, to look. Stop standing in before you change anything.";
                return Err(Fault::new(FaultKind::NotAllowed, message).into());
            }
            (Asker::Form(form), _) => Actor::Form(form),
            (Asker::Visitor { page, guest }, _) => Actor::Visitor { page, guest },
            (Asker::Automation(id), _) => Actor::Automation(id),
            (Asker::Westerfall, _) => Actor::Westerfall,
        };
        let landing = match intent {
            Intent::Undo { .. } => Landing::Back,
            Intent::Unpack { .. } => Landing::Copied,
            _ => Landing::Put,
        };
        let breaches = breaches.unwrap_or_else(|| decider.breaches(&ops, landing));
        let faults = breaches.into_iter().map(|breach| {
            let at = decider.pointer(intent, &ops, &breach);
            breach.fault.at(at)
        });
        Faults::none_or(faults.take(FAULTS_TOLD).collect())?;
        let ops = ops.into_iter().flat_map(Op::in_lots).collect();
        let change = Change { seq: self.seq + 1, at: clock.now, who, undoes, again, ops };
        if change.holds_zero() {
            let message = "A text holds the character zero, which nobody sees and nothing keeps. Take it out.";
            return Err(Fault::new(FaultKind::WrongKind, message).into());
        }
        if matches!(asker, Asker::Person(_) | Asker::Visitor { .. }) {
            adds_to.iter().try_for_each(|table| decider.lens.sees_what_is_added(asker, *table, &change))?;
        }
        Ok(Decision { change, added, made })
    }
}

/// Everything that a check needs.
struct Decider<'a> {
    ds: &'a Dataset,
    asker: Asker,
    clock: &'a Clock,
    lens: Lens<'a>,
}

impl<'a> Decider<'a> {
    fn new(ds: &'a Dataset, asker: Asker, clock: &'a Clock) -> Self {
        Self { ds, asker, clock, lens: Lens::new(ds, asker, clock) }
    }
}

impl Decider<'_> {
    /// Where in what was sent a value stands that may not land.
    fn pointer(&self, intent: &Intent, ops: &[Op], breach: &Breach) -> String {
        let field = breach.field;
        match intent {
            Intent::Edit { edits, .. } => match edits.iter().position(|e| e.field == field) {
                Some(place) => format!("/edits/{place}"),
                None => String::new(),
            },
            Intent::Add { table, .. } | Intent::Begin { table, .. } if breach.table == *table => {
                let begin = self.ds.table(*table).map_or(0, Table::rows);
                format!("/records/{}/{field}", breach.record.row().saturating_sub(begin))
            }
            Intent::AddWhole(new) => self.pointer_in_new(new, breach),
            Intent::Duplicate(duplicate) if breach.table == duplicate.table => {
                let begin = self.ds.table(duplicate.table).map_or(0, Table::rows);
                format!("/records/{}/{field}", breach.record.row().saturating_sub(begin))
            }
            Intent::Send { form, .. } => self.pointer_in_answer(*form, ops, breach),
            Intent::Amend { .. } => format!("/answers/{field}"),
            Intent::Block(block) => {
                let rows = self.ds.table(block.table).map_or(0, Table::rows);
                let row = block
                    .records
                    .iter()
                    .position(|record| *record == breach.record)
                    .or_else(|| breach.record.row().checked_sub(rows).map(|place| block.records.len().saturating_add(place)));
                let column = block.fields.iter().position(|known| *known == field);
                row.zip(column).map(|(row, column)| format!("/cells/{row}/{column}")).unwrap_or_default()
            }
            _ => String::new(),
        }
    }

    fn pointer_in_answer(&self, form: FormId, ops: &[Op], breach: &Breach) -> String {
        let Some(form) = self.ds.form(form) else { return String::new() };
        let added = |table: TableId| {
            let of_table = move |op: &&Op| matches!(op, Op::Add { table: t, .. } if *t == table);
            ops.iter().filter(of_table).filter_map(Op::record).map(|(_, record)| record)
        };
        let first: Option<RecordId> = added(form.table).next();
        if breach.table == form.table && Some(breach.record) == first {
            return format!("/answers/{}", breach.field);
        }
        let of_table = |f: &&FieldId| self.ds.table(form.table).and_then(|t| t.link(**f)).is_some_and(|l| l.to == breach.table);
        let lines = form.questions.iter().filter(|q| q.lines.is_some()).map(|q| &q.field).find(of_table);
        let place = added(breach.table).filter(|r| Some(*r) != first).position(|r| r == breach.record);
        match (lines, place) {
            (Some(lines), Some(place)) => format!("/lines/{lines}/{place}/{}", breach.field),
            _ => format!("/answers/{}", breach.field),
        }
    }

    /// Whether the asker may change the structure.
    fn may_build(&self) -> Result<(), Fault> {
        if self.lens.builds() {
            return Ok(());
        }
        Err(Fault::new(FaultKind::NotAllowed, "Only the tracker’s steward and builders can change its tables and fields."))
    }

    /// Nothing at all for what the asker may not see; a refusal for what they see but may not touch.
    fn must(&self, right: Right, table: TableId, record: RecordId) -> Result<(), Fault> {
        if !self.lens.sees(table, record) {
            return Err(Fault::not_found("record"));
        }
        if self.lens.may(right, table, record) {
            return Ok(());
        }
        let verb = if right == Right::Remove { "remove" } else { "change" };
        let one = self.ds.table(table).map_or("record", |t| &t.def.one);
        Err(Fault::new(FaultKind::NotAllowed, format!("You can look at this {one} but not {verb} it. Ask the tracker’s steward.")))
    }

    fn add(&self, table: TableId, records: &[Vec<(FieldId, Input)>]) -> Checked<Vec<Op>> {
        let Some(home) = self.ds.table(table).filter(|_| self.lens.opens(table)) else { return Err(Fault::not_found("table").into()) };
        if !self.lens.adds(table) {
            return Err(Fault::new(FaultKind::NotAllowed, format!("You can’t add {}. Ask the tracker’s steward.", home.def.many())).into());
        }
        if records.len() > ADD_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("At most {ADD_LIMIT} records can be added at once.")).into());
        }
        let adding = self.lens.adding(table);
        let mut numbers = Numbers::default();
        let mut ops = Vec::new();
        let mut faults = Vec::new();
        for (place, cells) in records.iter().enumerate() {
            let record = RecordId::at_row(home.rows() + place);
            let begin = ops.len();
            ops.push(Op::Add { table, record });
            for (field, input) in cells {
                match self.cell(table, record, *field, input, None, true) {
                    Ok(found) => ops.extend(found),
                    Err(fault) => faults.push(fault.at(format!("/records/{place}/{field}"))),
                }
            }
            ops.extend(self.settle(table, record, cells.iter().map(|(field, input)| (*field, input))));
            self.copy(begin, &mut ops);
            self.depend(begin, &mut ops);
            for (field, value) in adding.iter().flat_map(|a| &a.fills) {
                self.fill_in(table, record, *field, value, begin, &mut ops);
            }
            self.preset(table, record, begin, &mut ops);
            self.number(table, record, &mut numbers, &mut ops);
        }
        Faults::none_or(faults)?;
        Ok(ops)
    }

    fn begin(&self, table: TableId, cells: &[(FieldId, Input)]) -> Checked<Vec<Op>> {
        let mut ops = self.add(table, &[cells.to_vec()])?;
        let awaits: Vec<AutomationId> = self.ds.set_going_by_adding(table).map(|a| a.id).collect();
        if let (Some((_, record)), false) = (ops.first().and_then(Op::record), awaits.is_empty()) {
            let after = Some(Box::new(Arrival { awaits, ..Arrival::default() }));
            ops.push(Op::Arrive { table, record, before: None, after });
        }
        Ok(ops)
    }

    fn leave(&self, table: TableId, record: RecordId) -> Checked<Vec<Op>> {
        self.must(Right::Change, table, record)?;
        let Some(before) = self.ds.arrival(table, record) else { return Ok(Vec::new()) };
        let after = self.ds.left(record, before);
        if after == *before {
            return Ok(Vec::new());
        }
        let rest = (after != Arrival::default()).then(|| Box::new(after));
        Ok(vec![Op::Arrive { table, record, before: Some(Box::new(before.clone())), after: rest }])
    }

    /// The same into each of some records: all of them or none.
    fn edit_several(&self, table: TableId, records: &[RecordId], edits: &[Edit]) -> Checked<Vec<Op>> {
        if records.len() > MOST_AT_ONCE {
            return Err(Fault::new(FaultKind::TooLong, format!("At most {MOST_AT_ONCE} records are changed at once."))
                .at("/records")
                .into());
        }
        let link = |edit: &Edit| self.ds.table(table).and_then(|home| home.link(edit.field)).is_some_and(|link| !link.holds);
        if records.len() > 1 && edits.iter().any(link) {
            let message = "This link is kept at the other records, so that it is changed one record at a time.";
            return Err(Fault::new(FaultKind::BadRule, message).at("/edits").into());
        }
        let each = records.iter().collect::<std::collections::BTreeSet<_>>();
        let ops = each.into_iter().map(|record| self.edit(table, *record, edits)).collect::<Checked<Vec<_>>>()?;
        Ok(ops.into_iter().flatten().collect())
    }

    fn edit(&self, table: TableId, record: RecordId, edits: &[Edit]) -> Checked<Vec<Op>> {
        self.must(Right::Change, table, record)?;
        let mut ops = Vec::new();
        let mut faults = Vec::new();
        for (place, edit) in edits.iter().enumerate() {
            match self.cell(table, record, edit.field, &edit.input, edit.was.as_ref(), false) {
                Ok(found) => ops.extend(found),
                Err(fault) => faults.push(fault.at(format!("/edits/{place}"))),
            }
        }
        Faults::none_or(faults)?;
        self.copy(0, &mut ops);
        self.depend(0, &mut ops);
        ops.extend(self.settle(table, record, edits.iter().map(|edit| (edit.field, &edit.input))));
        Ok(ops)
    }

    fn remove(&self, table: TableId, records: &[RecordId]) -> Checked<Vec<Op>> {
        let faults = records.iter().enumerate().filter_map(|(place, record)| {
            let refused = self.must(Right::Remove, table, *record).err()?;
            Some(refused.at(format!("/records/{place}")))
        });
        Faults::none_or(faults.take(REFUSED).collect())?;
        Ok(records.iter().map(|record| Op::Gone { table, record: *record, gone: true }).collect())
    }

    /// Whoever may change a record may press its buttons.
    fn press(&self, table: TableId, record: RecordId, field: FieldId) -> Result<Op, Fault> {
        self.must(Right::Change, table, record)?;
        if !self.lens.shows(table, record, field) {
            return Err(Fault::not_found("field"));
        }
        if self.ds.button(table, field).is_none() {
            return Err(Fault::new(FaultKind::BadRule, "Nothing happens by pressing this: its automation is off or not chosen yet."));
        }
        Ok(Op::Press { table, record, field })
    }

    /// Fills in the values that are copied from records linked by these operations (from `begin` on), where nothing else is put in.
    fn copy(&self, begin: usize, ops: &mut Vec<Op>) {
        let mut copied = Vec::new();
        for op in &ops[begin..] {
            let Op::Cell { table, record, field: link, after: Value::Links(targets), .. } = op else { continue };
            let Some(home) = self.ds.table(*table) else { continue };
            for field in home.def.fields.iter().filter(|f| f.copies.is_some_and(|c| c.link == *link)) {
                let (Some(copies), Some(to), Some(target)) = (field.copies, home.link(*link).map(|l| l.to), targets.first()) else {
                    continue;
                };
                let put = ops[begin..].iter().any(|op| matches!(op, Op::Cell { record: r, field: f, .. } if r == record && *f == field.id));
                // The coordinator chose what is copied, so it is copied whoever links.
                let after = self.lens.whole().reader(to, copies.field).cell(target.row()).to_value().tidy();
                let before = home.column(field.id).map_or(Value::Empty, |c| c.cell(record.row()).to_value());
                if !put && after != before && !matches!(after, Value::Error(_)) {
                    copied.push(Op::Cell { table: *table, record: *record, field: field.id, before, after });
                }
            }
        }
        ops.extend(copied);
    }

    /// Empties a dependent choice whose ground was changed beneath it. That one which is put in stands under its ground is
    /// asked at the gate.
    fn depend(&self, begin: usize, ops: &mut Vec<Op>) {
        let mut emptied = Vec::new();
        for op in &ops[begin..] {
            let Op::Cell { table, record, field: changed, .. } = op else { continue };
            let Some(home) = self.ds.table(*table) else { continue };
            let put = |wanted: FieldId| {
                ops[begin..].iter().find_map(|op| match op {
                    Op::Cell { record: r, field, after, .. } if r == record && *field == wanted => Some(after.clone()),
                    _ => None,
                })
            };
            let stands = |wanted: FieldId| home.column(wanted).map_or(Value::Empty, |c| c.cell(record.row()).to_value());
            for field in &home.def.fields {
                let Kind::Choice { options, on: Some(on) } = &field.kind else { continue };
                if on != changed || put(field.id).is_some() {
                    continue;
                }
                let before = stands(field.id);
                let Value::Choice(chosen) = before else { continue };
                let under = options.iter().find(|o| o.id == chosen).and_then(|o| o.under);
                if !under.is_some_and(|under| put(*on) == Some(Value::Choice(under))) {
                    emptied.push(Op::Cell { table: *table, record: *record, field: field.id, before, after: Value::Empty });
                }
            }
        }
        ops.extend(emptied);
    }

    /// Fills in what fields begin with, where none of the record's operations (from `begin` on) puts anything in.
    fn preset(&self, table: TableId, record: RecordId, begin: usize, ops: &mut Vec<Op>) {
        let Some(home) = self.ds.table(table) else { return };
        for field in &home.def.fields {
            let value = match (&field.preset, &field.kind) {
                (None, _) => continue,
                (Some(Preset::Value(value)), _) => value.clone(),
                (Some(Preset::Now), Kind::DateTime) => Value::Instant(self.clock.now),
                (Some(Preset::Now), _) => Value::Date(self.clock.today()),
            };
            self.fill_in(table, record, field.id, &value, begin, ops);
        }
    }

    /// Puts a value into a new record where none was put in.
    fn fill_in(&self, table: TableId, record: RecordId, field: FieldId, value: &Value, begin: usize, ops: &mut Vec<Op>) {
        let is_it = |op: &Op| matches!(op, Op::Cell { record: r, field: f, .. } if *r == record && *f == field);
        if !ops[begin..].iter().any(is_it) {
            ops.push(Op::Cell { table, record, field, before: Value::Empty, after: value.clone() });
        }
    }

    /// Gives a new record the next number of each numbering of its table.
    fn number(&self, table: TableId, record: RecordId, numbers: &mut Numbers, ops: &mut Vec<Op>) {
        let Some(home) = self.ds.table(table) else { return };
        for field in &home.def.fields {
            let Kind::Numbering { parts } = &field.kind else { continue };
            let (period, before, after) = numbers.next(self.ds, field.id, parts, self.clock);
            let text = number_text(parts, after, self.clock);
            ops.push(Op::Count { field: field.id, period, before, after });
            ops.push(Op::Cell { table, record, field: field.id, before: Value::Empty, after: Value::text(&text) });
        }
    }
}

/// Numbers given out within one intent.
#[derive(Default)]
struct Numbers(std::collections::HashMap<(FieldId, String), u64>);

impl Numbers {
    fn next(&mut self, ds: &Dataset, field: FieldId, parts: &[NumberPart], clock: &Clock) -> (String, u64, u64) {
        let today = clock.today();
        let restarts = parts.iter().find_map(|p| if let NumberPart::Counter { restarts, .. } = p { Some(*restarts) } else { None });
        let period = match restarts {
            None | Some(Restart::Never) => String::new(),
            Some(Restart::Yearly) => today.strftime("%Y").to_string(),
            Some(Restart::Monthly) => today.strftime("%Y-%m").to_string(),
        };
        let last = self.0.entry((field, period.clone())).or_insert_with(|| ds.counter(field, &period));
        let before = *last;
        *last += 1;
        (period, before, *last)
    }
}

fn number_text(parts: &[NumberPart], counter: u64, clock: &Clock) -> String {
    let today = clock.today();
    let part = |part: &NumberPart| match part {
        NumberPart::Fixed { text } => text.clone(),
        NumberPart::Year => today.strftime("%Y").to_string(),
        NumberPart::Month => today.strftime("%m").to_string(),
        NumberPart::Counter { digits, .. } => format!("{counter:0digits$}"),
    };
    parts.iter().map(part).collect()
}

/// Whether a zone is one that the calendar knows.
pub(crate) fn zone(name: &str) -> Result<TimeZone, Fault> {
    TimeZone::get(name).map_err(|_| Fault::new(FaultKind::WrongKind, format!("“{name}” is not the name of a time zone.")).at("/zone"))
}
