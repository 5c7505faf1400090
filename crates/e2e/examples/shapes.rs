//! How long it takes, in a browser, to the first entries of lanes over a large table, to a month of its calendar and to the folio of
//! a record with many linked ones, for how long
//! scrolling through lanes and plates shows blanks, and how soon a lane answers to what is carried over it. Its last lines are
//! `ratio NAME VALUE`, over what is wanted: `lanes-first` seconds over 1, `month-first` and `folio-many` over 0.5, `lanes-blanks` and `cards-blanks`
//! the longest blank over 100 ms, at 100 rows a second, `drag` frames over 1. `WESTERFALL_BENCH_FAULTS` sets how many faults
//! (100,000 if not given).

use serde_json::{Value, json};
use std::time::Duration;
use westerfall_e2e::{Browser, Driver, Server};

/// Scrolls for so long, in milliseconds.
const SPAN: u32 = 10_000;
/// Pixels a second: 100 rows as high as those of a grid.
const SPEED: u32 = 3_300;

/// Scrolls with each frame what fits the first selector, and gives for how long at most something was blank in it, how far it came
/// and in how many frames.
const SCROLL: &str = "
    const [scrolled, span, speed, done] = arguments;
    const box = document.querySelector(scrolled);
    const begun = performance.now();
    let last = begun, blankSince, worst = 0, frames = 0;
    function frame(now) {
      frames += 1;
      const at = box.getBoundingClientRect();
      const lines = [...box.querySelectorAll('.line')].filter((line) => {
        const here = line.getBoundingClientRect();
        return here.bottom > at.top && here.top < at.bottom;
      });
      const blank = !lines.length || lines.some((line) => line.querySelector('.loading'));
      if (blank) worst = Math.max(worst, now - (blankSince ??= now));
      else blankSince = undefined;
      box.scrollTop += (speed * (now - last)) / 1000;
      last = now;
      if (now - begun < span) requestAnimationFrame(frame);
      else done([worst, box.scrollTop, frames]);
    }
    requestAnimationFrame(frame);";

/// Lifts an entry over each of the other lanes, one after the other, and gives after how many frames at most the lane showed it.
const CARRY: &str = "
    const done = arguments[0];
    const entry = document.querySelector('[data-entry]');
    const lanes = [...document.querySelectorAll('[data-lane-key]')].filter((lane) => !lane.contains(entry));
    const event = (name) => new DragEvent(name, { bubbles: true, cancelable: true, dataTransfer: new DataTransfer() });
    entry.dispatchEvent(event('dragstart'));
    let worst = 0, slowest = 0, lane = 0, since = 0, begun = 0;
    function enter() {
      since = 0;
      begun = performance.now();
      lanes[lane].dispatchEvent(event('dragover'));
      requestAnimationFrame(look);
    }
    function look(now) {
      since += 1;
      if (!lanes[lane].classList.contains('over') && since < 60) return requestAnimationFrame(look);
      worst = Math.max(worst, since);
      slowest = Math.max(slowest, now - begun);
      lane += 1;
      if (lane < lanes.length) return setTimeout(enter, 400);
      entry.dispatchEvent(event('dragend'));
      done([worst, slowest, lanes.length]);
    }
    requestAnimationFrame(enter);";

/// Turns a calendar on, and gives after how long something stands there that did not, and how much.
const TURN: &str = "
    const [button, done] = arguments;
    const marks = () => [...document.querySelectorAll('.week [data-record]')].map((mark) => mark.dataset.record);
    const before = new Set(marks());
    const begun = performance.now();
    document.querySelector(button).click();
    function look(now) {
      const now_there = marks();
      if (now_there.some((mark) => !before.has(mark))) done([now - begun, now_there.length]);
      else requestAnimationFrame(look);
    }
    requestAnimationFrame(look);";

/// Opens a record from another page, and gives after how long it is drawn with the list of those that are linked with it, and how
/// many those are.
const OPEN: &str = "
    const [address, list, done] = arguments;
    const begun = performance.now();
    history.pushState({ ...history.state, current: address }, '', address);
    dispatchEvent(new PopStateEvent('popstate', { state: history.state }));
    function look(now) {
      const heading = [...document.querySelectorAll('[data-test=folio] .linked h3')].find((one) => one.textContent.startsWith(list));
      const count = Number(heading?.querySelector('span')?.textContent.replace(/\\D/g, ''));
      if (heading?.parentElement.querySelector('li')) done([now - begun, count]);
      else requestAnimationFrame(look);
    }
    requestAnimationFrame(look);";

type Failed = Box<dyn std::error::Error>;

#[tokio::main]
async fn main() -> Result<(), Failed> {
    let faults = std::env::var("WESTERFALL_BENCH_FAULTS").ok().and_then(|n| n.parse().ok()).unwrap_or(100_000);
    let server = Server::start(faults).await;
    let driver = Driver::start().await;
    let browser = driver.browser(&server, 1280, 800).await;
    browser.walk_in("Nadia Ferreira-Holt").await;
    browser.web.set_script_timeout(Duration::from_secs(60)).await?;
    let lanes = browser.first("/t/1/3/113", "[data-entry]").await;
    let carried = asked(&browser, CARRY, Vec::new()).await?;
    let in_lane = scrolled(&browser, "[data-column]").await?;

    browser.go("/t/1/3/101").await;
    shaped(&browser, "rows", "calendar").await;
    browser.see(".week [data-record]").await;
    let month = asked(&browser, TURN, vec![json!("[data-test=earlier]")]).await?;

    shaped(&browser, "a calendar by", "cards").await;
    browser.see(".plate").await;
    let in_cards = scrolled(&browser, "[data-test=cards]").await?;
    browser.first("/t/1/2/114", ".plate").await;
    let folio = asked(&browser, OPEN, vec![json!("/t/1/2/r/1"), json!("Faults")]).await?;
    browser.close().await;

    println!("a record with {:.0} linked ones drawn after {:.0} ms", folio[1], folio[0]);
    println!("lanes of {faults} faults: first entries after {lanes:.2} s");
    println!("carried over {:.0} lanes: answered after {:.0} frames, {:.0} ms at most", carried[2], carried[0], carried[1]);
    println!("a month turned to after {:.0} ms, {:.0} marks", month[0], month[1]);
    for (what, told) in [("a lane", &in_lane), ("plates", &in_cards)] {
        println!("scrolled {:.0} pixels of {what} in {:.0} frames: blank for at most {:.0} ms", told[1], told[2], told[0]);
    }
    println!("ratio lanes-first {lanes:.2}");
    println!("ratio month-first {:.2}", month[0] / 500.0);
    println!("ratio folio-many {:.2}", folio[0] / 500.0);
    println!("ratio lanes-blanks {:.2}", in_lane[0] / 100.0);
    println!("ratio cards-blanks {:.2}", in_cards[0] / 100.0);
    println!("ratio drag {:.2}", carried[0]);
    Ok(())
}

/// Another shape of the view that is open, for oneself alone, chosen at the phrase of the one that it has.
async fn shaped(browser: &Browser, phrase: &str, shape: &str) {
    browser.press("button", phrase).await;
    browser.click(&format!("[data-shape={shape}]")).await;
    browser.keys(thirtyfour::Key::Escape).await;
}

async fn asked(browser: &Browser, script: &str, with: Vec<Value>) -> Result<Vec<f64>, Failed> {
    let told = browser.web.execute_async(script, with).await?.json().clone();
    Ok(told.as_array().into_iter().flatten().map(|number| number.as_f64().unwrap_or(f64::NAN)).collect())
}

async fn scrolled(browser: &Browser, css: &str) -> Result<Vec<f64>, Failed> {
    asked(browser, SCROLL, vec![json!(css), json!(SPAN), json!(SPEED)]).await
}
