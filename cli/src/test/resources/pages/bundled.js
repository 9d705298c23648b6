(()=>{var e=class{constructor(o){this.turn=o,this.cargo=["tea","coal"]}},r=new Map,c=[];function i(t){r.set(t,new e(t))}var n=0;window.act=function(){n++,i(n),window.addEventListener("tide",function(){c.push(n)})};})();
//# sourceMappingURL=bundled.js.map
