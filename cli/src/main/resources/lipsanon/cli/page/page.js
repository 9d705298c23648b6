'use strict';
(function () {
  const data = JSON.parse(document.getElementById('data').textContent);
  const page = document.getElementById('page');
  const colours = {
    'own classes': '#0072b2', 'libraries': '#56b4e9', 'the runtime': '#8c939c', 'text': '#e69f00',
    'arrays': '#f0e442', 'collections': '#009e73', 'boxed numbers': '#cc79a7', 'code': '#d55e00'
  };
  const charts = [];

  // ---- small tools: all texts go through textContent, so nothing of the heap is ever markup
  function add(parent, tag, options, ...children) {
    const element = document.createElement(tag);
    for (const [key, value] of Object.entries(options || {})) {
      if (key === 'text') element.textContent = value;
      else if (key === 'class') element.className = value;
      else if (key.startsWith('on')) element.addEventListener(key.slice(2), value);
      else element.setAttribute(key, value);
    }
    element.append(...children);
    if (parent) parent.append(element);
    return element;
  }
  function size(bytes) {
    if (bytes === undefined || bytes === null || bytes < 0) return '';
    const units = ['B', 'kB', 'MB', 'GB', 'TB'];
    let value = bytes, unit = 0;
    while (value >= 999.5 && unit < units.length - 1) { value /= 1000; unit++; }
    return (unit === 0 ? String(value) : value.toPrecision(3).replace(/e\+?\d+$/, '')) + ' ' + units[unit];
  }
  function count(number) { return Number(number).toLocaleString('en-US'); }
  function share(part, whole) { return whole > 0 ? (100 * part / whole).toFixed(1) + ' %' : ''; }
  function short(type) {
    const bare = type.replace(/<.*>/g, '<…>');
    const end = bare.lastIndexOf('.');
    return end < 0 || bare.startsWith('v8:') ? bare : bare.slice(end + 1);
  }
  function section(id, title, note) {
    const part = add(page, 'section', { id });
    add(part, 'h2', { text: title });
    if (note) add(part, 'p', { class: 'soft', text: note });
    return part;
  }
  function style(name) { return getComputedStyle(document.documentElement).getPropertyValue(name).trim(); }

  // charts are made when they come into view, and again when the colours of the page change
  function chart(parent, label, tall, make) {
    const box = add(parent, 'div', { class: tall ? 'chart tall' : 'chart', role: 'img', 'aria-label': label });
    const entry = { box, make, chart: null };
    entry.draw = function () {
      if (!entry.chart) {
        entry.chart = echarts.init(box, null, { renderer: 'canvas' });
        if (entry.ready) entry.ready(entry.chart);
      }
      entry.chart.setOption(make(), true);
    };
    charts.push(entry);
    new IntersectionObserver(function (seen, observer) {
      if (seen.some(one => one.isIntersecting)) { observer.disconnect(); entry.draw(); }
    }, { rootMargin: '200px' }).observe(box);
    return entry;
  }
  function base() {
    return {
      animation: false,
      textStyle: { fontFamily: 'system-ui, sans-serif', color: style('--ink') },
      tooltip: { renderMode: 'richText', confine: true, backgroundColor: style('--panel'), borderColor: style('--line'), textStyle: { color: style('--ink') } }
    };
  }
  function redraw() { charts.forEach(entry => { if (entry.chart) entry.draw(); }); }
  window.addEventListener('resize', () => charts.forEach(entry => { if (entry.chart) entry.chart.resize(); }));
  matchMedia('(prefers-color-scheme: dark)').addEventListener('change', redraw);

  // ---- the head
  page.textContent = '';
  add(page, 'h1', { text: data.title });
  const head = add(page, 'p', { class: 'soft' });
  const nav = add(page, 'nav', { class: 'top', 'aria-label': 'Parts of this page' });

  // ---- the verdict
  (function verdict() {
    const part = section('verdict', 'What was found');
    const growth = data.growth;
    const findings = growth ? growth.findings : data.survey ? data.survey.findings : [];
    if (growth) {
      add(part, 'p', { class: 'verdict' + (growth.verdict === 'growth' ? ' grows' : ''), text: growth.sentence });
    } else if (findings.length === 0 && data.survey) {
      add(part, 'p', { class: 'verdict', text: 'Nothing in this snapshot looks wrong by itself.' });
    }
    if (data.survey) {
      const survey = data.survey;
      let text = survey.snapshot.runtime + ' heap of ' + size(survey.snapshot.retainedBytes) + ' in ' + count(survey.snapshot.retainedObjects) + ' objects';
      if (survey.snapshot.capturedAt) text += ', captured ' + survey.snapshot.capturedAt;
      if (survey.unretainedObjects > 0) text += '; besides, nothing keeps ' + count(survey.unretainedObjects) + ' objects (' + size(survey.unretainedBytes) + ')';
      head.textContent = text + '.';
      survey.warnings.forEach(one => add(part, 'p', { class: 'warning', text: one }));
    }
    findings.forEach(finding => finding_(part, finding, growth));
    if (!growth && data.survey) {
      add(part, 'p', { class: 'soft', text: 'One snapshot cannot tell what grows; a report of several can.' });
    }
    data.origins.forEach(one => { if (one.sentence) add(part, 'p', { class: 'verdict', text: one.sentence }); });
    data.watched.forEach(one => { if (one.sentence) add(part, 'p', { class: 'verdict', text: one.sentence }); });
    data.fleets.forEach(one => {
      add(part, 'p', { class: 'verdict' + (one.answer.growing.length > 0 ? ' grows' : ''), text: one.answer.sentence });
      if (one.answer.openFirst) add(part, 'p', { text: 'Open first: ' + one.answer.openFirst.file + ' (' + one.answer.openFirst.why + ').' });
    });
  })();
  // in the words of the terminal's answers
  function effect(finding, holder) {
    const variable = /^((a |thread )?static variable |local variable .*in )/.test(holder.place);
    if (holder.place.startsWith('class loader ')) return 'they go only with the loader: make each class once, and keep it';
    if (!holder.id && !variable) return 'they go only when each of them ends';
    if (holder.freesCount > 0) return 'frees ' + count(holder.freesCount) + ' of them, ' + size(holder.freesBytes) + ' in all';
    return 'they go when they are taken out of it';
  }
  // of several that free nothing alone once for all
  function clearing(finding, line) {
    const holders = finding.holders;
    if (holders.length === 1) line('clearing it', effect(finding, holders[0]));
    if (holders.length < 2) return;
    const freeing = holders.filter(holder => holder.freesCount > 0 && holder.id);
    freeing.forEach(holder => line('clearing', holder.place + ' alone ' + effect(finding, holder)));
    if (holders.some(holder => holder.place.startsWith('running '))) line('clearing', 'they go only when each of the threads ends');
    else if (freeing.length < holders.length) line('clearing', (freeing.length ? 'each of the others alone' : 'one of them alone') + ' frees nothing: the others hold them too');
  }
  function finding_(part, finding, growth) {
    const box = add(part, 'div', { class: 'finding' + (finding.confidence < 0.5 ? ' unsure' : '') });
    if (!growth || growth.sentence !== finding.sentence) add(box, 'p', { text: finding.sentence });
    const list = add(box, 'dl');
    function line(name, text) { if (text) { add(list, 'dt', { text: name }); add(list, 'dd', { text }); } }
    line('held by', finding.heldBy);
    if (finding.counts.length > 1) line('how many', finding.counts.map(count).join(' → '));
    if (finding.bytes.length > 1) line('they retain', finding.bytes.map(size).join(' → '));
    if (finding.countPerAction > 0) line('an action', finding.countPerAction.toFixed(2) + ' objects, ' + size(Math.round(finding.bytesPerAction)));
    if (finding.inside.length > 0 && finding.holders.length < 2) line('inside it', finding.inside.slice(0, 4).join(' > ') + (finding.inside.length > 4 ? ' > …' : ''));
    clearing(finding, line);
    if (finding.containerId) line('piles up in', finding.container + ' ' + finding.containerId);
    line('how sure', Math.round(finding.confidence * 100) + ' %: ' + finding.reasons.join('; '));
    if (finding.steps.length > 0) {
      add(box, 'h3', { text: 'The path to one of them, from the root down' });
      path(box, finding.steps);
    }
  }
  function path(box, steps) {
    const list = add(box, 'ol', { class: 'path' });
    steps.forEach(step => {
      const item = add(list, 'li');
      add(item, 'strong', { text: step.via });
      item.append(' ');
      add(item, 'span', { class: 'mono', text: step.type + (step.label ? ' ' + step.label : '') + (step.repeats > 1 ? ' (' + count(step.repeats) + ' in a row)' : '') });
      if (step.retainedBytes > 0) {
        add(item, 'span', { class: 'soft', text: ' retains ' + size(step.retainedBytes) });
      }
    });
  }

  // ---- the series
  (function series() {
    const growth = data.growth;
    if (!growth || growth.heapBytes.length < 2) return;
    const part = section('series', 'The series', 'The heap after a full collection in each snapshot, and what the findings retain of it.');
    const names = growth.snapshots.map((one, i) => (i + 1) + '');
    const between = growth.actionsBetween || [];
    chart(part, 'The heap: ' + growth.heapBytes.map(size).join(', '), false, () => Object.assign(base(), {
      grid: { left: 80, right: 30, top: 40, bottom: 50 },
      legend: { textStyle: { color: style('--ink') }, type: 'scroll' },
      xAxis: { type: 'category', data: names, name: 'snapshot', nameLocation: 'middle', nameGap: 30, axisLabel: { color: style('--ink') } },
      yAxis: { type: 'value', axisLabel: { formatter: size, color: style('--ink') }, splitLine: { lineStyle: { color: style('--line') } } },
      tooltip: Object.assign(base().tooltip, { trigger: 'axis', formatter: rows => rows[0].name + (between[rows[0].dataIndex - 1] ? ' (after ' + between[rows[0].dataIndex - 1] + ' actions)' : '') + '\n' + rows.map(row => row.seriesName + ': ' + size(row.value)).join('\n') }),
      series: [{ name: 'heap', type: 'line', data: growth.heapBytes, lineStyle: { width: 3, color: style('--mark') }, itemStyle: { color: style('--mark') }, symbolSize: 8 }]
        .concat(growth.findings.map((finding, i) => ({ name: short(finding.what), type: 'line', data: finding.bytes, symbol: ['rect', 'triangle', 'diamond', 'pin'][i % 4], symbolSize: 8, lineStyle: { type: 'dashed', width: 2, color: ['#d55e00', '#009e73', '#cc79a7', '#e69f00'][i % 4] }, itemStyle: { color: ['#d55e00', '#009e73', '#cc79a7', '#e69f00'][i % 4] } })))
    }));
    plain(part, ['snapshot', 'file', 'actions before', 'heap'], growth.snapshots.map((one, i) => [names[i], one.file, i > 0 && between[i - 1] ? count(between[i - 1]) : '', size(growth.heapBytes[i])]), [0, 2, 3]);
    if (growth.setAside.length > 0) {
      add(part, 'h3', { text: 'Looked at and set aside' });
      plain(part, ['what', 'held by', 'retained', 'why'], growth.setAside.map(one => [one.what, one.heldBy, one.bytes.map(size).join(' → '), one.why]), []);
    }
  })();

  (function watched() {
    data.watched.forEach((one, number) => {
      const part = section('watched' + number, 'Watched: ' + one.program, 'The heap in use, and what was left of it after each collection.');
      chart(part, 'The heap of ' + one.program + ' over time', false, () => Object.assign(base(), {
        grid: { left: 80, right: 30, top: 40, bottom: 50 },
        legend: { textStyle: { color: style('--ink') } },
        xAxis: { type: 'value', name: 'seconds', nameLocation: 'middle', nameGap: 30, axisLabel: { color: style('--ink') } },
        yAxis: { type: 'value', axisLabel: { formatter: size, color: style('--ink') }, splitLine: { lineStyle: { color: style('--line') } } },
        tooltip: Object.assign(base().tooltip, { trigger: 'axis', formatter: rows => rows[0].value[0].toFixed(0) + ' s\n' + rows.map(row => row.seriesName + ': ' + size(row.value[1])).join('\n') }),
        series: [
          { name: 'in use', type: 'line', showSymbol: false, data: one.used, lineStyle: { color: style('--soft'), width: 1 }, itemStyle: { color: style('--soft') } },
          { name: 'survived', type: 'line', step: 'end', data: one.survived, symbolSize: 6, lineStyle: { color: style('--mark'), width: 3 }, itemStyle: { color: style('--mark') } }
        ]
      }));
    });
  })();

  // ---- many snapshots
  (function fleets() {
    data.fleets.forEach((fleet, number) => {
      const answer = fleet.answer;
      const many = (number_, what) => count(number_) + ' ' + what + (number_ === 1 ? '' : 's');
      const whole = many(answer.snapshots, 'snapshot') + ' of ' + many(answer.hosts, 'host') + ', ' + many(answer.services, 'service') + (answer.builds > 0 ? ', ' + many(answer.builds, 'build') : '');
      if (!head.textContent) head.textContent = whole + '.';
      const rows = answer.growing;
      if (rows.length > 0) {
        const part = section('grows' + number, 'What grows on how many hosts', 'Hosts on which a place rises steadily, of those with three or more snapshots of one build.');
        chart(part, 'Hosts on which each place grows: ' + rows.map(row => short(row.what) + ' ' + row.hostsGrowing + ' of ' + row.hostsWatched).join(', '), false, () => Object.assign(base(), {
          grid: { left: 240, right: 120, top: 10, bottom: 30 },
          xAxis: { type: 'value', minInterval: 1, axisLabel: { color: style('--ink') }, splitLine: { lineStyle: { color: style('--line') } } },
          yAxis: { type: 'category', inverse: true, data: rows.map(row => short(row.what)), axisLabel: { color: style('--ink'), width: 220, overflow: 'truncate' } },
          tooltip: Object.assign(base().tooltip, { formatter: one => rows[one.dataIndex].what.slice(0, 100) + '\nheld by ' + rows[one.dataIndex].heldBy.slice(0, 100) + '\n' + one.value + ' of ' + rows[one.dataIndex].hostsWatched + ' hosts' }),
          series: [{ type: 'bar', barMaxWidth: 28, data: rows.map(row => ({ value: row.hostsGrowing, itemStyle: { color: row.own ? '#d55e00' : '#8c939c' } })), label: { show: true, position: 'right', color: style('--ink'), formatter: one => one.value + ' of ' + rows[one.dataIndex].hostsWatched } }]
        }));
        plain(part, ['hosts', 'since build', 'a snapshot', 'count', 'largest', 'what', 'held by', 'service'], rows.map(row => [row.hostsGrowing + ' of ' + row.hostsWatched, row.since ? row.since + (row.newInSince ? '' : ' or before') : '', size(Math.round(row.bytesPerSnapshot)), '+' + count(Math.round(row.countPerSnapshot)), size(row.largestBytes), row.what, row.heldBy, row.service]), [2, 3, 4]);
        hosts(part, rows[0], fleet.series);
      }
      if (answer.everywhere.length > 0) {
        const part = section('everywhere' + number, 'What retains a tenth of the heap or more', 'On one host, the median.');
        plain(part, ['hosts', 'retained', 'share', 'count', 'what', 'held by', 'service'], answer.everywhere.map(row => [row.hostsWith + ' of ' + row.hosts, size(row.medianBytes), share(row.medianShare, 1), count(row.medianCount), row.what, row.heldBy, row.service]), [1, 2, 3]);
      }
      if (answer.outliers.length > 0) {
        const part = section('outliers' + number, 'Hosts that retain twice the usual of their service, or more');
        plain(part, ['retained', 'usual', 'times', 'host', 'build', 'service', 'snapshot'], answer.outliers.map(row => [size(row.retainedBytes), size(row.medianBytes), row.times.toFixed(1), row.host, row.build, row.service, row.file]), [0, 1, 2]);
      }
      if (answer.failures.length > 0) {
        const part = section('failed' + number, 'Could not be looked at: ' + count(answer.failed));
        plain(part, ['snapshot', 'host', 'why'], answer.failures.map(row => [row.file, row.host, row.problem]), []);
      }
    });
  })();
  function hosts(part, place, series) {
    if (series.length === 0) return;
    add(part, 'h3', { text: short(place.what) + ' held by ' + place.heldBy + ', by host' });
    const tints = ['#0072b2', '#d55e00', '#009e73', '#cc79a7', '#e69f00', '#56b4e9'];
    chart(part, 'What ' + short(place.what) + ' retain on each host over time', false, () => Object.assign(base(), {
      grid: { left: 80, right: 30, top: 50, bottom: 40 },
      legend: { type: 'scroll', textStyle: { color: style('--ink') } },
      xAxis: { type: 'time', axisLabel: { color: style('--ink') } },
      yAxis: { type: 'value', axisLabel: { formatter: size, color: style('--ink') }, splitLine: { lineStyle: { color: style('--line') } } },
      tooltip: Object.assign(base().tooltip, { trigger: 'item', formatter: one => one.seriesName + '\n' + one.value[0] + '\n' + size(one.value[1]) }),
      series: series.map((one, i) => ({ name: one.host + (one.build ? ' ' + one.build : ''), type: 'line', symbolSize: 7, data: one.times.map((time, k) => [time, one.bytes[k]]), lineStyle: { color: tints[i % tints.length], type: i % 12 < 6 ? 'solid' : 'dashed' }, itemStyle: { color: tints[i % tints.length] } }))
    }));
    plain(part, ['host', 'build', 'first', 'last', 'retained'], series.map(one => [one.host, one.build, one.times[0], one.times[one.times.length - 1], one.bytes.map(size).join(' → ')]), []);
  }

  // ---- who keeps most
  (function keepers() {
    if (!data.keepers || data.keepers.nodes.length === 0) return;
    const nodes = data.keepers.nodes;
    const children = nodes.map(() => []);
    const top = [];
    nodes.forEach((node, i) => (node.parent < 0 ? top : children[node.parent]).push(i));
    const part = section('keepers', 'Who keeps most', 'Each rectangle is an object, as large as what goes with it when it goes. Choose one to look inside; the browser’s Back leads out again.');
    const keys = add(part, 'ul', { class: 'keys', 'aria-label': 'Colours' });
    Object.entries(colours).forEach(([kind, colour]) => { const item = add(keys, 'li'); const spot = add(item, 'span'); spot.style.background = colour; item.append(kind); });
    const trail = add(part, 'nav', { class: 'trail', 'aria-label': 'Where this is' });
    const split = add(part, 'div', { class: 'split' });
    const left = add(split, 'div'), right = add(split, 'div');
    const list = add(right, 'ul', { class: 'level', 'aria-label': 'The objects of this level' });
    const facts = add(part, 'div', { class: 'panel', 'aria-live': 'polite' });
    let at = -1;
    function name(i) {
      if (i < 0) return 'the heap';
      const node = nodes[i];
      return node.label.startsWith('class ') ? node.label : short(node.type) + (node.label ? ' ' + node.label : '');
    }
    function ink(kind) { return ['own classes', 'collections', 'code'].includes(kind) ? '#fff' : '#111'; }
    function bytes(i) { return i < 0 ? data.keepers.heapBytes : nodes[i].retainedBytes; }
    function below(i) { return i < 0 ? top : children[i]; }
    function rest(i) { return Math.max(0, bytes(i) - below(i).reduce((sum, child) => sum + nodes[child].retainedBytes, 0)); }
    function item(i, depth) {
      const node = nodes[i];
      const one = { name: name(i), value: node.retainedBytes, place: i, itemStyle: { color: colours[node.kind] || '#8c939c' }, label: { color: ink(node.kind) } };
      if (depth > 0 && children[i].length > 0) {
        one.children = children[i].map(child => item(child, depth - 1));
        one.itemStyle.borderColor = one.itemStyle.color;
        one.upperLabel = { color: ink(node.kind) };
        const left_ = rest(i);
        if (left_ > 0) one.children.push({ name: 'smaller ones', value: left_, place: -2, itemStyle: { color: '#b9bec5' }, label: { color: '#111' } });
      }
      return one;
    }
    const drawn = chart(left, 'Who keeps most, as nested rectangles; the list beside it has the same', true, () => Object.assign(base(), {
      tooltip: Object.assign(base().tooltip, { formatter: one => one.data.place === -2 || one.data.place === undefined ? one.name + ': ' + size(one.value) : nodes[one.data.place].type.slice(0, 120) + '\n' + size(one.value) + ', ' + share(one.value, data.keepers.heapBytes) + ' of the heap\nheld by ' + nodes[one.data.place].heldBy.slice(0, 120) }),
      series: [{
        type: 'treemap', animation: false, animationDurationUpdate: 0, roam: false, nodeClick: false, breadcrumb: { show: false }, width: '100%', height: '100%', top: 0, left: 0, bottom: 0, right: 0,
        visibleMin: 40, childrenVisibleMin: 400, sort: 'desc',
        label: { show: true, formatter: one => one.name + '\n' + size(one.value), overflow: 'truncate', fontSize: 12 },
        upperLabel: { show: true, height: 20, color: style('--ink'), formatter: one => one.name + '  ' + size(one.value) },
        itemStyle: { borderColor: style('--paper'), borderWidth: 1, gapWidth: 1 },
        levels: [{ itemStyle: { gapWidth: 3 }, upperLabel: { show: false } }, { itemStyle: { gapWidth: 1, borderWidth: 2 } }, { upperLabel: { show: true } }],
        data: below(at).map(i => item(i, 2)).concat(rest(at) > 0 ? [{ name: 'smaller ones', value: rest(at), place: -2, itemStyle: { color: '#b9bec5' }, label: { color: '#111' } }] : [])
      }]
    }));
    drawn.ready = made => made.on('click', one => { if (one.data && one.data.place >= 0) go(one.data.place); });
    function go(i) { location.hash = i < 0 ? 'keepers' : 'keepers-' + i; }
    function show(i) {
      at = i;
      trail.textContent = '';
      const way = [];
      for (let up = i; up >= 0; up = nodes[up].parent) way.unshift(up);
      [-1].concat(way).forEach((step, n, all) => {
        const last = n === all.length - 1;
        const button = add(trail, 'button', { type: 'button', text: name(step), onclick: () => go(step) });
        if (last) { button.disabled = true; button.setAttribute('aria-current', 'location'); } else trail.append('›');
      });
      list.textContent = '';
      below(i).slice(0, 200).forEach(child => {
        const entry = add(list, 'li');
        const button = add(entry, 'button', { type: 'button', 'data-place': String(child), onclick: () => go(child) });
        add(button, 'span', { text: name(child) });
        add(button, 'span', { text: size(nodes[child].retainedBytes) });
        const bar = add(button, 'span', { class: 'bar' });
        bar.style.width = Math.max(1, 100 * nodes[child].retainedBytes / Math.max(1, bytes(i))) + '%';
        bar.style.background = colours[nodes[child].kind] || '#8c939c';
      });
      if (rest(i) > 0) add(list, 'li', { class: 'soft', text: (below(i).length > 0 ? 'and smaller ones: ' : 'its own bytes, and smaller objects: ') + size(rest(i)) });
      facts.textContent = '';
      if (i < 0) {
        add(facts, 'p', { text: 'All of the heap: ' + size(bytes(-1)) + '. Objects that retain less than ' + size(data.keepers.leastBytes) + ' are not drawn one by one.' });
      } else {
        const node = nodes[i];
        add(facts, 'p', {}, add(null, 'strong', { class: 'mono', text: node.type + ' ' + node.label }));
        add(facts, 'p', { text: size(node.retainedBytes) + ' retained, ' + share(node.retainedBytes, data.keepers.heapBytes) + ' of the heap; ' + size(node.shallowBytes) + ' of its own; ' + node.kind + '; held by ' + node.heldBy + '.' });
        add(facts, 'p', { class: 'mono soft', text: 'lipsanon show ' + data.subject + ' ' + node.id });
        if (data.live) live(facts, node.id);
      }
      if (drawn.chart) drawn.draw();
    }
    function fromAddress() {
      const match = /^#keepers-(\d+)$/.exec(location.hash);
      const place = match ? Number(match[1]) : -1;
      show(place >= 0 && place < nodes.length ? place : -1);
      const where = part.getBoundingClientRect();
      if (match && (where.top > innerHeight || where.bottom < 0)) part.scrollIntoView();
    }
    window.addEventListener('hashchange', fromAddress);
    fromAddress();
  })();

  // ---- live questions, where this page is served by the program itself
  function live(box, id) {
    const tools = add(box, 'div', { class: 'tools' });
    const out = add(box, 'div', { 'aria-live': 'polite' });
    [['show', 'fields and contents'], ['why', 'why it is alive'], ['keepers', 'what it keeps'], ['refs', 'who refers to it']].forEach(([what, text]) =>
      add(tools, 'button', { type: 'button', 'data-ask': what, text, onclick: () => ask(out, what + '?id=' + encodeURIComponent(id)) }));
  }
  async function ask(out, question) {
    out.textContent = 'asking …';
    try {
      const reply = await fetch(question);
      const answer = await reply.json();
      out.textContent = '';
      if (answer.error) { add(out, 'p', { class: 'warning', text: answer.error }); return; }
      answer.lines.forEach(one => add(out, 'p', { text: one }));
      answer.tables.forEach(one => {
        if (one.title) add(out, 'h3', { text: one.title });
        const rows = plain(out, one.columns, one.rows, one.numbers);
        rows.querySelectorAll('td').forEach(cell => {
          if (/^(0x[0-9a-f]+|@\d+)$/.test(cell.textContent)) {
            const other = cell.textContent;
            cell.textContent = '';
            add(cell, 'button', { type: 'button', text: other, onclick: () => { out.textContent = ''; live(out, other); out.querySelector('button').click(); } });
          }
        });
      });
    } catch (failure) { out.textContent = 'The program that serves this page does not answer: ' + failure.message; }
  }

  // ---- kinds
  (function kinds() {
    if (!data.kinds || data.kinds.groups.length === 0) return;
    const part = section('kinds', 'What fills the heap');
    const rows = data.kinds.groups;
    chart(part, 'What fills the heap: ' + rows.map(row => row.group + ' ' + size(row.bytes)).join(', '), false, () => Object.assign(base(), {
      grid: { left: 120, right: 90, top: 10, bottom: 30 },
      xAxis: { type: 'value', axisLabel: { formatter: size, color: style('--ink') }, splitLine: { lineStyle: { color: style('--line') } } },
      yAxis: { type: 'category', inverse: true, data: rows.map(row => row.group), axisLabel: { color: style('--ink') } },
      tooltip: Object.assign(base().tooltip, { formatter: one => one.name + ': ' + size(one.value) + ', ' + share(rows[one.dataIndex].share, 1) + '\n' + count(rows[one.dataIndex].count) + ' objects, most of them ' + rows[one.dataIndex].largestType.slice(0, 100) }),
      series: [{ type: 'bar', data: rows.map(row => ({ value: row.bytes, itemStyle: { color: colours[row.group] || '#8c939c' } })), label: { show: true, position: 'right', color: style('--ink'), formatter: one => size(one.value) } }]
    }));
    plain(part, ['kind', 'objects', 'bytes', 'share', 'most bytes in'], rows.map(row => [row.group, count(row.count), size(row.bytes), share(row.share, 1), row.largestType]), [1, 2, 3]);
  })();

  function plain(part, columns, rows, numbers) {
    const box = add(part, 'div', { class: 'plain', tabindex: '0' });
    const table = add(box, 'table');
    const line = add(add(table, 'thead'), 'tr');
    columns.forEach((column, i) => { const cell = add(line, 'th', { scope: 'col', class: numbers.includes(i) ? 'n' : '' }); add(cell, 'button', { type: 'button', text: column, disabled: '' }); });
    const body = add(table, 'tbody');
    rows.forEach(row => { const tr = add(body, 'tr'); row.forEach((cell, i) => add(tr, 'td', { class: numbers.includes(i) ? 'n' : '', text: cell, title: String(cell) })); });
    return box;
  }

  // ---- types: only the rows in sight are in the page
  (function types() {
    const types_ = data.types;
    if (!types_ || types_.names.length === 0) return;
    const part = section('types', 'Types', count(types_.names.length) + ' types. Retained: what all objects of a type keep together' + (types_.exact ? ', exactly.' : '; a lower bound where a type is not among the largest.'));
    const tools = add(part, 'div', { class: 'tools' });
    const label = add(tools, 'label', { text: 'Names that contain ' });
    const filter = add(label, 'input', { type: 'search', id: 'filter' });
    const ownLabel = add(tools, 'label');
    const own = add(ownLabel, 'input', { type: 'checkbox', id: 'own' });
    ownLabel.append(' only own code');
    const total = add(tools, 'span', { class: 'soft', id: 'total', 'aria-live': 'polite' });
    const box = add(part, 'div', { class: 'rows', tabindex: '0', role: 'region', 'aria-label': 'Types' });
    const table = add(box, 'table', { 'aria-rowcount': String(types_.names.length) });
    const line = add(add(table, 'thead'), 'tr');
    const columns = [['count', types_.counts, true], ['own bytes', types_.shallow, true], ['retained', types_.retained, true], ['type', types_.names, false]];
    let sorted = 2, down = true, order = [];
    const heads = columns.map(([text, values, number], i) => {
      const cell = add(line, 'th', { scope: 'col', class: number ? 'n' : '' });
      add(cell, 'button', { type: 'button', text, onclick: () => { down = sorted === i ? !down : number; sorted = i; arrange(); } });
      return cell;
    });
    const body = add(table, 'tbody');
    const found = add(part, 'div', { class: 'panel', 'aria-live': 'polite' });
    found.hidden = !data.live;
    if (data.live) add(found, 'p', { class: 'soft', text: 'A click on a type asks for its largest objects.' });
    const height = 26;
    let printing = false;
    function arrange() {
      const wanted = filter.value.toLowerCase();
      order = [];
      for (let i = 0; i < types_.names.length; i++) {
        if ((!own.checked || types_.own[i]) && (!wanted || types_.names[i].toLowerCase().includes(wanted))) order.push(i);
      }
      const values = columns[sorted][1];
      order.sort((a, b) => (values[a] < values[b] ? -1 : values[a] > values[b] ? 1 : a - b) * (down ? -1 : 1));
      heads.forEach((cell, i) => cell.setAttribute('aria-sort', i !== sorted ? 'none' : down ? 'descending' : 'ascending'));
      total.textContent = order.length === types_.names.length ? '' : count(order.length) + ' of ' + count(types_.names.length);
      box.scrollTop = 0;
      draw();
    }
    function draw() {
      const from = printing ? 0 : Math.max(0, Math.floor(box.scrollTop / height) - 10);
      const to = printing ? Math.min(order.length, 60) : Math.min(order.length, from + Math.ceil(box.clientHeight / height) + 20);
      body.textContent = '';
      gap(from);
      for (let n = from; n < to; n++) {
        const i = order[n];
        const tr = add(body, 'tr', { 'aria-rowindex': String(n + 2) });
        add(tr, 'td', { class: 'n', text: count(types_.counts[i]) });
        add(tr, 'td', { class: 'n', text: size(types_.shallow[i]) });
        add(tr, 'td', { class: 'n', text: size(types_.retained[i]) });
        const cell = add(tr, 'td', { class: types_.own[i] ? 'own' : '', text: data.live ? '' : types_.names[i], title: types_.names[i] });
        if (data.live) add(cell, 'button', { type: 'button', 'data-type': types_.names[i], text: types_.names[i], onclick: () => { found.textContent = ''; add(found, 'h3', { text: types_.names[i] }); ask(add(found, 'div'), 'type?name=' + encodeURIComponent(types_.names[i])); found.scrollIntoView({ block: 'nearest' }); } });
      }
      gap(printing ? 0 : order.length - to);
    }
    function gap(rows) {
      if (rows <= 0) return;
      const tr = add(body, 'tr', { class: 'gap', 'aria-hidden': 'true' });
      const cell = add(tr, 'td', { colspan: '4' });
      cell.style.height = rows * height + 'px';
    }
    filter.addEventListener('input', arrange);
    own.addEventListener('change', arrange);
    box.addEventListener('scroll', draw, { passive: true });
    window.addEventListener('beforeprint', () => { printing = true; draw(); });
    window.addEventListener('afterprint', () => { printing = false; draw(); });
    arrange();
  })();

  // ---- how sets are held
  (function ways() {
    data.ways.forEach((way, number) => {
      if (!way.ways || way.ways.nodes.length === 0) return;
      const part = section('ways' + number, 'How all ' + short(way.subject) + ' are held', count(way.objects) + ' objects of ' + way.subject + ': all nearest paths from the roots, merged. The number is how many of them are reached through a step.');
      const nodes = way.ways.nodes;
      const made = nodes.map(node => ({ name: short(node.type) + ' · ' + count(node.leadsTo), full: node, children: [], itemStyle: { color: node.own ? style('--mark') : '#8c939c' } }));
      const tops = [];
      nodes.forEach((node, i) => (node.parent < 0 ? tops : made[node.parent].children).push(made[i]));
      const leaves = made.filter(one => one.children.length === 0).length;
      const drawn = chart(part, 'Paths to ' + way.subject, true, () => Object.assign(base(), {
        tooltip: Object.assign(base().tooltip, { formatter: one => one.data.full ? one.data.full.via.slice(0, 120) + '\n' + one.data.full.type.slice(0, 120) + '\n' + count(one.data.full.objects) + ' objects lead to ' + count(one.data.full.leadsTo) + '; ' + count(one.data.full.members) + ' end here' : 'the roots' }),
        series: [{ type: 'tree', orient: 'LR', left: 70, right: 190, top: 20, bottom: 20, symbolSize: 11, initialTreeDepth: 12, expandAndCollapse: false, roam: true,
          label: { position: 'top', distance: 7, color: style('--ink'), fontSize: 12, width: 170, overflow: 'truncate' }, leaves: { label: { position: 'right', align: 'left', width: 180, overflow: 'truncate' } },
          lineStyle: { color: style('--soft'), width: 2 }, data: [{ name: 'roots', children: tops, itemStyle: { color: '#009e73' } }] }]
      }));
      drawn.box.style.height = Math.min(640, 90 + 44 * leaves) + 'px';
      plain(part, ['leads to', 'how, from the roots down', 'objects'], nodes.map(node => { let depth = 0; for (let up = node.parent; up >= 0; up = nodes[up].parent) depth++; return [count(node.leadsTo), '\u00a0\u00a0'.repeat(depth) + node.via + ' → ' + node.type + (node.label ? ' ' + node.label : ''), count(node.objects)]; }), [0, 2]);
    });
  })();

  // ---- origins: call stacks, each frame as wide as what was allocated below it
  (function origins() {
    data.origins.forEach((one, number) => {
      if (one.stacks.length === 0) return;
      const part = section('origins' + number, 'Where it was allocated', one.file + ': ' + one.kind + '. Choose a frame to widen it, and the lowest one to go back.' + (one.sampled ? ' All figures are estimates from samples.' : ''));
      const frames = [];
      const open = [];
      one.stacks.forEach((row, i) => {
        while (open.length > row.depth) open.pop();
        const above = open.length ? frames[open[open.length - 1]] : null;
        const from = above ? above.next : frames.reduce((end, frame) => frame.depth === 0 ? Math.max(end, frame.to) : end, 0);
        frames.push({ place: i, depth: row.depth, from, to: from + row.bytes, next: from, row });
        if (above) above.next = from + row.bytes;
        open.push(i);
      });
      const whole = frames.reduce((end, frame) => Math.max(end, frame.to), 1);
      const deepest = Math.max(...frames.map(frame => frame.depth)) + 1;
      let view = [0, whole];
      const drawn = chart(part, 'Call stacks by bytes allocated', true, () => Object.assign(base(), {
        tooltip: Object.assign(base().tooltip, { formatter: item => frames[item.value[3]].row.frame.slice(0, 150) + '\n' + size(frames[item.value[3]].row.bytes) + ', ' + share(frames[item.value[3]].row.share, 1) }),
        grid: { left: 0, right: 0, top: 5, bottom: 5 },
        xAxis: { min: view[0], max: view[1], show: false }, yAxis: { min: 0, max: Math.max(8, deepest), show: false, inverse: false },
        series: [{ type: 'custom', clip: true, data: frames.map(frame => [frame.from, frame.to, frame.depth, frame.place]), encode: { x: [0, 1], y: 2 },
          renderItem: (params, api) => {
            const start = api.coord([Math.max(api.value(0), view[0]), api.value(2) + 1]);
            const end = api.coord([Math.min(api.value(1), view[1]), api.value(2)]);
            const width = end[0] - start[0] - 1;
            if (width < 1) return null;
            const frame = frames[api.value(3)];
            return { type: 'rect', shape: { x: start[0], y: start[1], width, height: end[1] - start[1] - 1 },
              style: { fill: ['#e69f00', '#f0c04a', '#d98a2b', '#f0e442'][frame.row.frame.length % 4], text: width > 40 ? frame.row.frame : '', textFill: '#111' },
              textContent: { style: { text: width > 40 ? frame.row.frame : '', fill: '#111', fontSize: 11, width: width - 8, overflow: 'truncate' } }, textConfig: { position: 'insideLeft' } };
          } }]
      }));
      drawn.ready = made => made.on('click', item => { const frame = frames[item.value[3]]; view = frame.depth === 0 || (view[0] === frame.from && view[1] === frame.to) ? [0, whole] : [frame.from, frame.to]; drawn.draw(); });
      plain(part, ['function', 'bytes', 'share', 'objects'], one.functions.map(row => [row.function + (row.script ? ' (' + row.script + (row.line ? ':' + row.line : '') + ')' : ''), size(row.liveBytes || row.allBytes), share(row.share, 1), count(row.liveCount || row.allCount)]), [1, 2, 3]);
    });
  })();

  // ---- what could be saved
  (function savings() {
    if (!data.savings || data.savings.kinds.length === 0) return;
    const part = section('savings', 'What could be saved though nothing leaks');
    data.savings.kinds.forEach(kind => {
      add(part, 'h3', { text: kind.sentence });
      add(part, 'p', { class: 'soft', text: kind.advice });
      plain(part, ['could be saved', 'how many', 'where', 'example'], kind.places.map(place => [size(place.bytes), count(place.count), place.where, place.example]), [0, 1]);
      if (kind.commonest.length > 0) add(part, 'p', { class: 'soft', text: 'Most often: ' + kind.commonest.map(one => one.text + ' ' + count(one.count) + ' times').join(', ') + '.' });
    });
  })();

  // ---- how it was made
  (function made() {
    const part = section('made', 'How this was made');
    add(part, 'p', { text: data.made.version + ', ' + data.made.at + '. Nothing of it has left this machine; the page loads nothing from anywhere.' });
    plain(part, ['file', 'bytes', 'what'], data.made.files.map(file => [file.file, size(file.bytes), file.what]), [1]);
    add(part, 'h3', { text: 'The same on the command line' });
    data.made.commands.forEach(line => add(part, 'p', { class: 'mono', text: line }));
  })();

  page.querySelectorAll('section').forEach(part => add(nav, 'a', { href: '#' + part.id, text: part.querySelector('h2').textContent }));
  document.documentElement.setAttribute('data-ready', '1');
})();
