// Made from the studies' metadata by `npm run faces`; a test holds it to that.

/**
 * Simple moving average. Unit: as the source.
 * Formula: mean of the last span values.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function sma(source: Column, span?: number): Column;

/**
 * Exponential moving average. Unit: as the source.
 * Formula: y = y[1] + 2 / (span + 1) * (x - y[1]), seeded by the simple mean of the first span values.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function ema(source: Column, span?: number): Column;

/**
 * Wilder's moving average. Unit: as the source.
 * Formula: y = y[1] + (x - y[1]) / span, seeded by the simple mean of the first span values.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function wilder(source: Column, span?: number): Column;

/**
 * Weighted moving average: the newest value counts most. Unit: as the source.
 * Formula: sum(w * x) / sum(w), with w = 1 for the oldest of span values up to span for the newest.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function wma(source: Column, span?: number): Column;

/**
 * Hull moving average: quick, and smoothed once more. Unit: as the source.
 * Formula: wma(2 * wma(x, floor(span / 2)) - wma(x, span), floor(sqrt(span))).
 * First value: span + floor(sqrt(span)) - 2 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function hull(source: Column, span?: number): Column;

/**
 * Double exponential moving average. Unit: as the source.
 * Formula: 2 * e1 - e2, with e1 = ema(x, span) and e2 = ema(e1, span).
 * First value: 2 * (span - 1) bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function dema(source: Column, span?: number): Column;

/**
 * Triple exponential moving average. Unit: as the source.
 * Formula: 3 * e1 - 3 * e2 + e3, each the ema(span) of the one before.
 * First value: 3 * (span - 1) bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function tema(source: Column, span?: number): Column;

/**
 * Adaptive moving average: quick in a straight move, slow in noise. Unit: as the source.
 * Formula: y = y[1] + c^2 * (x - y[1]), c between 2 / (slow + 1) and 2 / (fast + 1) by efficiency(x, span); begins at x[1].
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out; `fast` whole, 1 to 100000, 2 when left out; `slow` whole, 1 to 100000, 30 when left out.
 */
declare function adaptiveAverage(source: Column, span?: number, fast?: number, slow?: number): Column;

/**
 * Volume-weighted moving average of any source. Unit: as the source.
 * Formula: sum(x * volume, span) / sum(volume, span); the plain mean while nothing was traded.
 * First value: span - 1 bars after the first value of both. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function vwma(source: Column, volume: Column, span?: number): Column;

/**
 * Median of the last span values: one wild value does not move it. Unit: as the source.
 * Formula: middle of the sorted values, the mean of the two middle ones for an even span.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 9 when left out.
 */
declare function medianOf(source: Column, span?: number): Column;

/**
 * Simple average of as many values as another column says. Unit: as the source.
 * Formula: simple average of the last n values, n = floor(length) kept between floor and ceiling.
 * First value: ceiling - 1 bars after the source's first value, or the first length if later. Inputs: `floor` whole, 1 to 100000, 20 when left out; `ceiling` whole, 1 to 100000, 60 when left out.
 */
declare function averageOver(source: Column, length: Column, floor?: number, ceiling?: number): Column;

/**
 * Relative strength index, 0 to 100. Unit: 0 to 100.
 * Formula: 100 * G / (G + L), with G and L Wilder's averages of the rises and falls; 50 when nothing moved.
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function rsi(source: Column, span?: number): Column;

/**
 * Stochastic: where the close stands between the lowest low and the highest high. Unit: 0 to 100.
 * Formula: k = sma(100 * (close - L) / (H - L), slowing) with H, L of span bars (50 when H = L); d = sma(k, smoothing).
 * First value: span + slowing - 2 bars for k, smoothing - 1 more for d. Inputs: `span` whole, 1 to 100000, 14 when left out; `slowing` whole, 1 to 100000, 3 when left out; `smoothing` whole, 1 to 100000, 3 when left out.
 */
declare function stochastic(bars: Bars, span?: number, slowing?: number, smoothing?: number): { readonly k: Column; readonly d: Column };

/**
 * Commodity channel index: distance from the mean in mean deviations. Unit: about -200 to 200.
 * Formula: (t - sma(t, span)) / (0.015 * mean absolute deviation), t the typical price; 0 when nothing moved.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function cci(bars: Bars, span?: number): Column;

/**
 * Change since span bars ago. Unit: as the source.
 * Formula: x - x[span].
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out.
 */
declare function momentum(source: Column, span?: number): Column;

/**
 * Change since span bars ago in percent. Unit: %.
 * Formula: 100 * (x / x[span] - 1); 0 where x[span] is 0.
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out.
 */
declare function rateOfChange(source: Column, span?: number): Column;

/**
 * Difference of two exponential averages, its signal line and their gap. Unit: as the source.
 * Formula: line = ema(fast) - ema(slow); signal = ema(line, smoothing); histogram = line - signal.
 * First value: max(fast, slow) - 1 bars for the line, smoothing - 1 more for signal and histogram. Inputs: `fast` whole, 1 to 100000, 12 when left out; `slow` whole, 1 to 100000, 26 when left out; `smoothing` whole, 1 to 100000, 9 when left out.
 */
declare function macd(source: Column, fast?: number, slow?: number, smoothing?: number): { readonly line: Column; readonly signal: Column; readonly histogram: Column };

/**
 * Rate of change of a triple exponential smoothing. Unit: %.
 * Formula: 100 * (e / e[1] - 1), e = ema(ema(ema(x, span), span), span); 0 where e[1] is 0.
 * First value: 3 * (span - 1) + 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 15 when left out.
 */
declare function trix(source: Column, span?: number): Column;

/**
 * Directional movement: its two sides and their average strength (ADX). Unit: 0 to 100.
 * Formula: plus, minus = 100 * wilder(+DM or -DM) / wilder(trueRange); adx = wilder(100 * abs(plus - minus) / (plus + minus)); 0 for 0/0.
 * First value: span bars for plus and minus, span - 1 more for adx. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function directional(bars: Bars, span?: number): { readonly adx: Column; readonly plus: Column; readonly minus: Column };

/**
 * Aroon: how fresh the highest high and the lowest low are, and their gap. Unit: 0 to 100.
 * Formula: up = 100 * (span - bars since the highest high of span + 1 bars) / span; down by the lowest low; gap = up - down.
 * First value: span bars. Inputs: `span` whole, 1 to 100000, 25 when left out.
 */
declare function aroon(bars: Bars, span?: number): { readonly up: Column; readonly down: Column; readonly gap: Column };

/**
 * Where a value stands between the lowest and the highest of its last span values; of an RSI: the stochastic RSI. Unit: 0 to 100.
 * Formula: 100 * (x - lowest(x, span)) / (highest(x, span) - lowest(x, span)); 50 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function placeInRange(source: Column, span?: number): Column;

/**
 * Percent range: how far below the highest high the close stands, in percent of the range. Unit: -100 to 0.
 * Formula: -100 * (H - close) / (H - L), H and L the highest high and lowest low of span bars; -50 when H = L.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function percentRange(bars: Bars, span?: number): Column;

/**
 * Momentum by sums of rises and falls: what rose less what fell, in percent of both. Unit: -100 to 100.
 * Formula: 100 * (U - D) / (U + D), U and D the sums of the rises and of the falls of span values; 0 when nothing moved.
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function riseFall(source: Column, span?: number): Column;

/**
 * True strength: twice smoothed change against twice smoothed size of change, and its signal line. Unit: -100 to 100.
 * Formula: line = 100 * ema(ema(x - x[1], slow), fast) / ema(ema(abs(x - x[1]), slow), fast), 0 when nothing moved; signal = ema(line, smoothing).
 * First value: slow + fast - 1 bars after the source's first value for the line, smoothing - 1 more for the signal. Inputs: `slow` whole, 1 to 100000, 25 when left out; `fast` whole, 1 to 100000, 13 when left out; `smoothing` whole, 1 to 100000, 7 when left out.
 */
declare function trueStrength(source: Column, slow?: number, fast?: number, smoothing?: number): { readonly line: Column; readonly signal: Column };

/**
 * Vortex: movement up and movement down against the true range. Unit: share.
 * Formula: plus = sum(abs(high - low[1]), span) / sum(trueRange, span); minus = sum(abs(low - high[1]), span) / sum(trueRange, span); 0 for 0/0.
 * First value: span bars. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function vortex(bars: Bars, span?: number): { readonly plus: Column; readonly minus: Column };

/**
 * Choppiness: how much of its way price went to and fro; near 100 sideways, low in a straight move. Unit: 0 to 100.
 * Formula: 100 * log(sum(trueRange, span) / (H - L)) / log(span), H and L of span bars; 100 when H = L.
 * First value: span - 1 bars. Inputs: `span` whole, 2 to 100000, 14 when left out.
 */
declare function choppiness(bars: Bars, span?: number): Column;

/**
 * Mid-price momentum: a fast average of the bars' middles less a slow one. Unit: price.
 * Formula: sma(m, fast) - sma(m, slow), m = (high + low) / 2.
 * First value: max(fast, slow) - 1 bars. Inputs: `fast` whole, 1 to 100000, 5 when left out; `slow` whole, 1 to 100000, 34 when left out.
 */
declare function midMomentum(bars: Bars, fast?: number, slow?: number): Column;

/**
 * Three-span oscillator: where closes stand in their true ranges, over three spans, the short one weighing most. Unit: 0 to 100.
 * Formula: 100 * (4 * a(short) + 2 * a(middle) + a(long)) / 7, a(n) = sum(close - min(low, close[1]), n) / sum(trueRange, n), 0.5 for 0/0.
 * First value: the longest of the three spans. Inputs: `short` whole, 1 to 100000, 7 when left out; `middle` whole, 1 to 100000, 14 when left out; `long` whole, 1 to 100000, 28 when left out.
 */
declare function threeSpan(bars: Bars, short?: number, middle?: number, long?: number): Column;

/**
 * Fisher transform of where a value stands in its range: turning points stand out as sharp peaks. Unit: about -4 to 4.
 * Formula: v = 0.33 * 2 * ((x - L) / (H - L) - 0.5) + 0.67 * v[1], kept within 0.999, 0 for H = L; value = 0.5 * ln((1 + v) / (1 - v)) + 0.5 * value[1].
 * First value: span - 1 bars after the source's first value; v and value begin at 0. Inputs: `span` whole, 1 to 100000, 10 when left out.
 */
declare function fisher(source: Column, span?: number): Column;

/**
 * Detrended price: a value half a span ago less the average about it. Unit: as the source.
 * Formula: x[floor(span / 2) + 1] - sma(x, span).
 * First value: the later of span - 1 and floor(span / 2) + 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function detrended(source: Column, span?: number): Column;

/**
 * Bullish or bearish reading of an oscillator: 1 from a value above one level on, -1 from a value below another on. Unit: -1, 0 or 1.
 * Formula: 1 when x > bullishAbove, -1 when x < bearishBelow, else as before; 0 before either.
 * First value: none after the source's first value. Inputs: `bullishAbove` -1000000000000 to 1000000000000, 60 when left out; `bearishBelow` -1000000000000 to 1000000000000, 40 when left out.
 */
declare function reading(source: Column, bullishAbove?: number, bearishBelow?: number): Column;

/**
 * Bollinger bands: a simple average and bands a number of standard deviations away. Unit: as the source.
 * Formula: middle = sma(span); upper, lower = middle + and - width * standardDeviation(span).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out; `width` 0.01 to 100, 2 when left out.
 */
declare function bollinger(source: Column, span?: number, width?: number): { readonly middle: Column; readonly upper: Column; readonly lower: Column };

/**
 * Keltner channel: an exponential average and bands a number of average true ranges away. Unit: price.
 * Formula: middle = ema(close, span); upper, lower = middle + and - width * atr(span).
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out; `width` 0.01 to 100, 2 when left out.
 */
declare function keltner(bars: Bars, span?: number, width?: number): { readonly middle: Column; readonly upper: Column; readonly lower: Column };

/**
 * Bands a number of average true ranges away from any column. Unit: price.
 * Formula: middle = x; upper, lower = x + and - width * atr(span).
 * First value: span - 1 bars, or the source's first value if later. Inputs: `span` whole, 1 to 100000, 14 when left out; `width` 0.01 to 100, 2 when left out.
 */
declare function atrBands(bars: Bars, source: Column, span?: number, width?: number): { readonly middle: Column; readonly upper: Column; readonly lower: Column };

/**
 * Price channel: highest high and lowest low of the last span bars, the current one included, and their middle. Unit: price.
 * Formula: upper = highest(high, span); lower = lowest(low, span); middle = (upper + lower) / 2.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function donchian(bars: Bars, span?: number): { readonly upper: Column; readonly lower: Column; readonly middle: Column };

/**
 * Lines of the five-line cloud: conversion, base, and the cloud's two edges as they stand over this bar. Unit: price.
 * Formula: m(n) = middle of the highest high and lowest low of n bars; conversion = m(fast); base = m(middle); leadA = ((conversion + base) / 2)[middle]; leadB = m(slow)[middle]; the fifth line is close, held against itself middle bars ago.
 * First value: fast - 1 and middle - 1 bars; the edges middle bars after what they are made of. Inputs: `fast` whole, 1 to 100000, 9 when left out; `middle` whole, 1 to 100000, 26 when left out; `slow` whole, 1 to 100000, 52 when left out.
 */
declare function cloudLines(bars: Bars, fast?: number, middle?: number, slow?: number): { readonly conversion: Column; readonly base: Column; readonly leadA: Column; readonly leadB: Column };

/**
 * A stop line that follows price at a number of average true ranges and changes sides when the close passes it. Unit: price.
 * Formula: up: max(line[1], middle - width * atr) while close >= line; a close below turns it to middle + width * atr, and mirrored; middle = (high + low) / 2.
 * First value: span - 1 bars; begins upward. Inputs: `span` whole, 1 to 100000, 10 when left out; `width` 0.01 to 100, 3 when left out.
 */
declare function stopLine(bars: Bars, span?: number, width?: number): { readonly line: Column; readonly direction: Column };

/**
 * Parabolic stop: a line that closes in on price faster with each new extreme, and its direction. Unit: price.
 * Formula: s = s[1] + a * (extreme - s[1]), kept beyond the two bars before; a grows by step up to most with each new extreme; price past s turns it to the extreme.
 * First value: 1 bar; begins in the direction of the second bar's close. Inputs: `step` 0.0001 to 1, 0.02 when left out; `most` 0.0001 to 1, 0.2 when left out.
 */
declare function parabolic(bars: Bars, step?: number, most?: number): { readonly line: Column; readonly direction: Column };

/**
 * True range in price units. Unit: price.
 * Formula: max(high, close[1]) - min(low, close[1]); high - low on the first bar.
 * First value: none.
 */
declare function trueRange(bars: Bars): Column;

/**
 * Average true range in price units. Unit: price.
 * Formula: Wilder's average of the true range.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function atr(bars: Bars, span?: number): Column;

/**
 * Average of high - low over the last span bars, gaps left out. Unit: price.
 * Formula: sma(high - low, span).
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function averageRange(bars: Bars, span?: number): Column;

/**
 * Highest of the last span values, the current one included. Unit: as the source.
 * Formula: max(x, x[1], ..., x[span - 1]).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function highest(source: Column, span?: number): Column;

/**
 * Lowest of the last span values, the current one included. Unit: as the source.
 * Formula: min(x, x[1], ..., x[span - 1]).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function lowest(source: Column, span?: number): Column;

/**
 * Highest of as many values as another column says. Unit: as the source.
 * Formula: highest of the last n values, n = floor(length) kept between floor and ceiling.
 * First value: ceiling - 1 bars after the source's first value, or the first length if later. Inputs: `floor` whole, 1 to 100000, 20 when left out; `ceiling` whole, 1 to 100000, 60 when left out.
 */
declare function highestOver(source: Column, length: Column, floor?: number, ceiling?: number): Column;

/**
 * Lowest of as many values as another column says. Unit: as the source.
 * Formula: lowest of the last n values, n = floor(length) kept between floor and ceiling.
 * First value: ceiling - 1 bars after the source's first value, or the first length if later. Inputs: `floor` whole, 1 to 100000, 20 when left out; `ceiling` whole, 1 to 100000, 60 when left out.
 */
declare function lowestOver(source: Column, length: Column, floor?: number, ceiling?: number): Column;

/**
 * Last swing high that is confirmed: a turning point with strength values on each side of it. Unit: as the source.
 * Formula: x[strength] where x[strength] > the strength values after it and >= those before it; else as before.
 * First value: strength bars after the first swing high: it is known then, never before. Inputs: `strength` whole, 1 to 100000, 3 when left out.
 */
declare function swingHigh(source: Column, strength?: number): Column;

/**
 * Last swing low that is confirmed: a turning point with strength values on each side of it. Unit: as the source.
 * Formula: x[strength] where x[strength] < the strength values after it and <= those before it; else as before.
 * First value: strength bars after the first swing low: it is known then, never before. Inputs: `strength` whole, 1 to 100000, 3 when left out.
 */
declare function swingLow(source: Column, strength?: number): Column;

/**
 * Zigzag of confirmed legs: the last turning point that price has left by so many percent, and the direction since. Unit: as the source.
 * Formula: a low becomes the turning point once x has risen percent from it, a high once x has fallen percent from it; direction 1 after a low, -1 after a high.
 * First value: until the first leg of percent: a turning point is known then, never before. Inputs: `percent` 0.001 to 1000, 2 when left out.
 */
declare function zigzag(source: Column, percent?: number): { readonly value: Column; readonly direction: Column };

/**
 * Bars since the highest of the last span values; of equal ones the newest counts. Unit: bars.
 * Formula: the smallest k with x[k] = highest(x, span).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function barsSinceHighest(source: Column, span?: number): Column;

/**
 * Bars since the lowest of the last span values; of equal ones the newest counts. Unit: bars.
 * Formula: the smallest k with x[k] = lowest(x, span).
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function barsSinceLowest(source: Column, span?: number): Column;

/**
 * On-balance volume: volume added on a rise of the close, taken off on a fall. Unit: volume.
 * Formula: y = y[1] + sign(close - close[1]) * volume.
 * First value: none; begins at 0 on the first bar.
 */
declare function onBalanceVolume(bars: Bars): Column;

/**
 * Accumulation line: volume weighted by where the bar closed in its range. Unit: volume.
 * Formula: y = y[1] + ((close - low) - (high - close)) / (high - low) * volume; nothing for a bar without range.
 * First value: none; begins at 0 on the first bar.
 */
declare function accumulation(bars: Bars): Column;

/**
 * Money flow index: share of the traded value on bars with a rising typical price. Unit: 0 to 100.
 * Formula: 100 * P / (P + N), P and N the sums of typical price * volume over span rises and falls; 50 when nothing moved.
 * First value: span bars. Inputs: `span` whole, 1 to 100000, 14 when left out.
 */
declare function moneyFlow(bars: Bars, span?: number): Column;

/**
 * Volume against its average over the last span bars. Unit: times the average.
 * Formula: volume / sma(volume, span); 1 while nothing was traded.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function volumeRatio(bars: Bars, span?: number): Column;

/**
 * Share of the volume of span bars that closed high in their range, less the share that closed low. Unit: -1 to 1.
 * Formula: sum(((close - low) - (high - close)) / (high - low) * volume, span) / sum(volume, span); 0 while nothing was traded.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function volumePressure(bars: Bars, span?: number): Column;

/**
 * Volume-weighted average price of the week so far, with deviation bands. Unit: price.
 * Formula: since the week's first session: value = sum(t * volume) / sum(volume), t = (high + low + close) / 3; upper, lower = value + and - width * sqrt(sum(volume * (t - value)^2) / sum(volume)); the typical price while nothing was traded.
 * First value: none. Inputs: `width` 0 to 100, 2 when left out.
 */
declare function weeklyVwap(bars: Bars, width?: number): { readonly value: Column; readonly upper: Column; readonly lower: Column };

/**
 * Volume-weighted average price since an event, with deviation bands; the anchor counts bars since it, as barsSince() does. Unit: price.
 * Formula: since anchor was last 0 or fell: value = sum(t * volume) / sum(volume), t = (high + low + close) / 3; upper, lower = value + and - width * sqrt(sum(volume * (t - value)^2) / sum(volume)); the typical price while nothing was traded.
 * First value: the anchor's first value. Inputs: `width` 0 to 100, 2 when left out.
 */
declare function anchoredVwap(bars: Bars, anchor: Column, width?: number): { readonly value: Column; readonly upper: Column; readonly lower: Column };

/**
 * Volume by price of the last span bars: the price with most of it, and the area about it that holds a share. Unit: price.
 * Formula: the range of span bars in equal rows, each bar's volume spread evenly over its own range; control = middle of the fullest row, the lower of equal ones; high, low = edges of the rows about it, the fuller neighbour first, that hold share of all.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 2000, 60 when left out; `rows` whole, 2 to 500, 24 when left out; `share` 0.01 to 1, 0.7 when left out.
 */
declare function volumeByPrice(bars: Bars, span?: number, rows?: number, share?: number): { readonly control: Column; readonly high: Column; readonly low: Column };

/**
 * Standard deviation of the last span values. Unit: as the source.
 * Formula: sqrt(mean((x - mean(x))^2)), divisor span.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function standardDeviation(source: Column, span?: number): Column;

/**
 * Yearly volatility of log returns in percent. Unit: % a year.
 * Formula: 100 * sqrt(perYear) * standard deviation (divisor span - 1) of ln(x / x[1]) over span returns; a price of 0 or less counts as no move.
 * First value: span bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out; `perYear` 1 to 1000000, 252 when left out.
 */
declare function historicalVolatility(source: Column, span?: number, perYear?: number): Column;

/**
 * Yearly volatility in percent from highs and lows alone, for prices without drift and gaps. Unit: % a year.
 * Formula: 100 * sqrt(perYear * sma(ln(high / low)^2 / (4 * ln 2), span)); a price of 0 or less counts as no move.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out; `perYear` 1 to 1000000, 252 when left out.
 */
declare function parkinsonVolatility(bars: Bars, span?: number, perYear?: number): Column;

/**
 * Yearly volatility in percent from all four prices of bars, for prices without drift and gaps. Unit: % a year.
 * Formula: 100 * sqrt(perYear * sma(ln(high / low)^2 / 2 - (2 * ln 2 - 1) * ln(close / open)^2, span)); a price of 0 or less counts as no move.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out; `perYear` 1 to 1000000, 252 when left out.
 */
declare function garmanKlassVolatility(bars: Bars, span?: number, perYear?: number): Column;

/**
 * Yearly volatility in percent from all four prices of bars, whatever the drift, without gaps. Unit: % a year.
 * Formula: 100 * sqrt(perYear * sma(ln(high / close) * ln(high / open) + ln(low / close) * ln(low / open), span)); a price of 0 or less counts as no move.
 * First value: span - 1 bars. Inputs: `span` whole, 1 to 100000, 20 when left out; `perYear` 1 to 1000000, 252 when left out.
 */
declare function rogersSatchellVolatility(bars: Bars, span?: number, perYear?: number): Column;

/**
 * Yearly volatility in percent from all four prices of bars and the gaps between them, whatever the drift. Unit: % a year.
 * Formula: 100 * sqrt(perYear * (variance of ln(open / close[1]) + k * variance of ln(close / open) + (1 - k) * mean of the Rogers-Satchell terms)), divisor span - 1, k = 0.34 / (1.34 + (span + 1) / (span - 1)); a price of 0 or less counts as no move.
 * First value: span bars. Inputs: `span` whole, 2 to 100000, 20 when left out; `perYear` 1 to 1000000, 252 when left out.
 */
declare function yangZhangVolatility(bars: Bars, span?: number, perYear?: number): Column;

/**
 * Distance from the mean of the last span values in standard deviations. Unit: standard deviations.
 * Formula: (x - sma(x, span)) / standardDeviation(x, span); 0 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function zScore(source: Column, span?: number): Column;

/**
 * How many percent of the span values before are below the current one; equal ones count half. Unit: 0 to 100.
 * Formula: 100 * (values below + half of the values equal) / span, among x[1] to x[span].
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 100 when left out.
 */
declare function percentRank(source: Column, span?: number): Column;

/**
 * Value that a share of the last span values stays below. Unit: as the source.
 * Formula: the sorted values at share * (span - 1), counted from 0, straight between two of them.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 100 when left out; `share` 0 to 1, 0.5 when left out.
 */
declare function quantileOf(source: Column, span?: number, share?: number): Column;

/**
 * Skew of the last span values: above 0 where the large distances from the mean lie above it. Unit: no unit.
 * Formula: mean((x - m)^3) / s^3 over span values, m their mean and s their standard deviation; 0 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 3 to 100000, 50 when left out.
 */
declare function skewness(source: Column, span?: number): Column;

/**
 * Kurtosis of the last span values: 3 for a normal distribution, more where the tails are fat. Unit: no unit.
 * Formula: mean((x - m)^4) / s^4 over span values, m their mean and s their standard deviation; 3 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 3 to 100000, 50 when left out.
 */
declare function kurtosis(source: Column, span?: number): Column;

/**
 * Sum of the last span values. Unit: as the source.
 * Formula: x + x[1] + ... + x[span - 1].
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 1 to 100000, 20 when left out.
 */
declare function sumOf(source: Column, span?: number): Column;

/**
 * Efficiency ratio: how straight the last span steps were. Unit: 0 to 1.
 * Formula: abs(x - x[span]) / sum(abs(x - x[1]), span); 0 when nothing moved.
 * First value: span bars after the source's first value. Inputs: `span` whole, 1 to 100000, 10 when left out.
 */
declare function efficiency(source: Column, span?: number): Column;

/**
 * Least-squares line through the last span values: its end, its slope a bar, and how well it fits. Unit: as the source.
 * Formula: line through (k, x[k]); value at the newest bar; slope a bar; fit = r squared, 0 when nothing moved.
 * First value: span - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 20 when left out.
 */
declare function regression(source: Column, span?: number): { readonly value: Column; readonly slope: Column; readonly fit: Column };

/**
 * Correlation of two columns, of two instruments too. Unit: -1 to 1.
 * Formula: sum(dx * dy) / sqrt(sum(dx^2) * sum(dy^2)) over span values, d from the means; 0 when one did not move.
 * First value: span - 1 bars after the first value of both. Inputs: `span` whole, 2 to 100000, 50 when left out.
 */
declare function correlation(source: Column, other: Column, span?: number): Column;

/**
 * How much a column moves for a move of another. Unit: per unit of the other.
 * Formula: sum(dx * dy) / sum(dy^2) over span values, x the source and y the other; 0 when the other did not move.
 * First value: span - 1 bars after the first value of both. Inputs: `span` whole, 2 to 100000, 50 when left out.
 */
declare function beta(source: Column, other: Column, span?: number): Column;

/**
 * Correlation of a column with itself some bars ago: below 0 where moves are taken back. Unit: -1 to 1.
 * Formula: correlation(x, x[lag], span); 0 when nothing moved.
 * First value: span + lag - 1 bars after the source's first value. Inputs: `span` whole, 2 to 100000, 50 when left out; `lag` whole, 1 to 100000, 1 when left out.
 */
declare function autocorrelation(source: Column, span?: number, lag?: number): Column;

/**
 * Half-life of reversion: bars in which half of a distance from the mean is taken back. Unit: bars.
 * Formula: -ln 2 / ln(1 + b), b the slope of x - x[1] on x[1] over span changes; 0 for b of -1 or less, 10 * span where that is more, or where nothing comes back.
 * First value: span bars after the source's first value. Inputs: `span` whole, 3 to 100000, 100 when left out.
 */
declare function halfLife(source: Column, span?: number): Column;

/**
 * What is left of a column by another: the residual of their least-squares line, its slope, and the residual in its own deviations. Unit: as the source.
 * Formula: value = x - (a + beta * y), a and beta by least squares over span values; score = value / sqrt(mean of squared residuals), 0 for 0/0; beta 0 when y did not move.
 * First value: span - 1 bars after the first value of both. Inputs: `span` whole, 3 to 100000, 100 when left out.
 */
declare function cointegration(source: Column, other: Column, span?: number): { readonly value: Column; readonly beta: Column; readonly score: Column };

/**
 * Open of the session's first bar. Unit: price.
 * Formula: open of the first bar.
 * First value: none.
 */
declare function sessionOpen(bars: Bars): Column;

/**
 * Highest price of the session so far. Unit: price.
 * Formula: max of high since the session opened.
 * First value: none.
 */
declare function sessionHigh(bars: Bars): Column;

/**
 * Lowest price of the session so far. Unit: price.
 * Formula: min of low since the session opened.
 * First value: none.
 */
declare function sessionLow(bars: Bars): Column;

/**
 * Volume-weighted average price of the session so far. Unit: price.
 * Formula: sum(typicalPrice * volume) / sum(volume) since the session opened; the typical price while nothing was traded.
 * First value: none.
 */
declare function sessionVwap(bars: Bars): Column;

/**
 * High and low of the session's first bars. Unit: price.
 * Formula: highest high and lowest low of the first count bars of the session; of those there are so far while it forms.
 * First value: none. Inputs: `count` whole, 1 to 100000, 1 when left out.
 */
declare function openingRange(bars: Bars, count?: number): { readonly high: Column; readonly low: Column };

/**
 * High and low of the session's first minutes, whatever the timeframe. Unit: price.
 * Formula: highest high and lowest low of the session's bars that open before its scheduled open + minutes, the first bar at least; of those there are so far while it forms.
 * First value: none. Inputs: `minutes` whole, 1 to 1440, 30 when left out.
 */
declare function openingMinutes(bars: Bars, minutes?: number): { readonly high: Column; readonly low: Column };

/**
 * Open, high, low, close and range of the session before. Unit: price.
 * Formula: of the bars of the last completed session; range = high - low.
 * First value: until the second session of the data.
 */
declare function previousSession(bars: Bars): { readonly open: Column; readonly high: Column; readonly low: Column; readonly close: Column; readonly range: Column };

/**
 * Pivot levels of the session before: the pivot, two resistances and two supports. Unit: price.
 * Formula: pivot = (H + L + C) / 3; r1 = 2 * pivot - L; s1 = 2 * pivot - H; r2, s2 = pivot + and - (H - L).
 * First value: until the second session of the data.
 */
declare function pivots(bars: Bars): { readonly pivot: Column; readonly r1: Column; readonly s1: Column; readonly r2: Column; readonly s2: Column };

/**
 * Pivot levels of the session before by the floor's formula, three to each side. Unit: price.
 * Formula: pivot = (H + L + C) / 3; r1 = 2 * pivot - L; r2 = pivot + (H - L); r3 = H + 2 * (pivot - L); s1, s2, s3 mirrored.
 * First value: until the second session of the data.
 */
declare function floorPivots(bars: Bars): { readonly pivot: Column; readonly r1: Column; readonly s1: Column; readonly r2: Column; readonly s2: Column; readonly r3: Column; readonly s3: Column };

/**
 * Pivot levels that weigh the new session's open, three to each side. Unit: price.
 * Formula: pivot = (H + L + 2 * O) / 4, O the open of the session that goes on; levels as of floorPivots.
 * First value: until the second session of the data.
 */
declare function openPivots(bars: Bars): { readonly pivot: Column; readonly r1: Column; readonly s1: Column; readonly r2: Column; readonly s2: Column; readonly r3: Column; readonly s3: Column };

/**
 * Pivot levels at ratios of the session before's range, three to each side. Unit: price.
 * Formula: pivot = (H + L + C) / 3; r1, r2, r3 = pivot + 0.382, 0.618 and 1 * (H - L); s1, s2, s3 mirrored.
 * First value: until the second session of the data.
 */
declare function ratioPivots(bars: Bars): { readonly pivot: Column; readonly r1: Column; readonly s1: Column; readonly r2: Column; readonly s2: Column; readonly r3: Column; readonly s3: Column };

/**
 * Levels close about the last session's close, three to each side. Unit: price.
 * Formula: pivot = C; r1, r2, r3 = C + 1.1 * (H - L) / 12, / 6 and / 4; s1, s2, s3 mirrored.
 * First value: until the second session of the data.
 */
declare function closePivots(bars: Bars): { readonly pivot: Column; readonly r1: Column; readonly s1: Column; readonly r2: Column; readonly s2: Column; readonly r3: Column; readonly s3: Column };

/**
 * Bars since the session opened; the first bar counts 1. Unit: bars.
 * Formula: 1, 2, 3, ... within a session.
 * First value: none.
 */
declare function barsSinceOpen(bars: Bars): Column;

/**
 * Exchange time of the bar's open in minutes after midnight. Unit: minutes.
 * Formula: wall clock of the exchange, hours x 60 + minutes.
 * First value: none.
 */
declare function minuteOfDay(bars: Bars): Column;

/**
 * Weekday of the session's date: 1 for Monday to 7 for Sunday. Unit: 1 to 7.
 * Formula: day of the week of the session's date.
 * First value: none.
 */
declare function weekday(bars: Bars): Column;

/**
 * Minutes from the bar's close to the session's scheduled close, early closes included; 0 on its last bar. Unit: minutes.
 * Formula: session close - bar close, not below 0.
 * First value: none.
 */
declare function minutesToClose(bars: Bars): Column;

/**
 * Mean of high, low and close. Unit: price.
 * Formula: (high + low + close) / 3.
 * First value: none.
 */
declare function typicalPrice(bars: Bars): Column;

/**
 * Middle of the bar's range. Unit: price.
 * Formula: (high + low) / 2.
 * First value: none.
 */
declare function medianPrice(bars: Bars): Column;

/**
 * Averaged candles as columns: bars whose open leans on the bar before, so that a move keeps its colour. Unit: price.
 * Formula: close = (o + h + l + c) / 4; open = (open[1] + close[1]) / 2, the first (o + c) / 2; high = max(h, open, close); low = min(l, open, close).
 * First value: none.
 */
declare function averagedBars(bars: Bars): { readonly open: Column; readonly high: Column; readonly low: Column; readonly close: Column };

/**
 * Range of the bar. Unit: price.
 * Formula: high - low.
 * First value: none.
 */
declare function barRange(bars: Bars): Column;

/**
 * Body of the bar: above 0 when it closed above its open. Unit: price.
 * Formula: close - open.
 * First value: none.
 */
declare function barBody(bars: Bars): Column;
